import type ts from '#typescript'

/**
 * Edits of a module's text that leave every line where it is: what is blanked keeps its length, and what is put in has no its own line. So a place
 * in the new text is distinguished from what was put in before it on its line, without a source map.
 */

/** Which of those that is at one place goes around the others: the smaller around the larger. */
export const RANK = { head: 0, meter: 1, probe: 2, module: 3, type: 4 } as const
export type Rank = (typeof RANK)[keyof typeof RANK]

/**
 * What was put in: five numbers for each, by their places in the new text. Line and column there, length, line and column of the old text that it
 * represents; lines and columns from 0.
 */
export type Added = readonly number[]

interface Insertion {
  at: number
  text: string
  rank: Rank
  /** Of what ends: where it began. */
  start: number | null
  /** It ends a statement, and so all expressions that end there. */
  ofStatement: boolean
  /** Which place of the old text it represents. */
  from: number
}

export class TextEdits {
  readonly #insertions: Insertion[]
  readonly #blanks: [start: number, end: number][]

  /** @param like edits of the same text that these begin with */
  constructor(
    private readonly source: ts.SourceFile,
    like?: TextEdits,
  ) {
    this.#insertions = like ? like.#insertions.slice() : []
    this.#blanks = like ? like.#blanks.slice() : []
  }

  blank(start: number, end: number): void {
    if (end > start) this.#blanks.push([start, end])
  }

  /** Before what begins at `at`. Outer parts are asked for before inner ones. */
  before(at: number, text: string, rank: Rank, from = at): void {
    this.#insertions.push({ at, text, rank, start: null, ofStatement: false, from })
  }

  /** After an expression. */
  after(node: ts.Node, text: string, rank: Rank): void {
    const start = node.getStart(this.source)
    this.#insertions.push({ at: node.end, text, rank, start, ofStatement: false, from: start })
  }

  /** After a statement, or a member of a class. */
  afterStatement(node: ts.Node, text: string, rank: Rank): void {
    const start = node.getStart(this.source)
    this.#insertions.push({ at: node.end, text, rank, start, ofStatement: true, from: start })
  }

  /** After all else. */
  atEnd(text: string): void {
    this.#insertions.push({ at: this.source.end, text, rank: RANK.head, start: 0, ofStatement: true, from: 0 })
  }

  apply(): { text: string; added: Added } {
    const text = this.#blanked()
    const lines = this.source.getLineStarts()
    const added: number[] = []
    let edited = ''
    let done = 0
    let line = 0
    let onLine = 0
    for (const { at, text: more, from } of this.#insertions.sort(inOrder)) {
      while (line + 1 < lines.length && lines[line + 1]! <= at) {
        line++
        onLine = 0
      }
      const of = this.source.getLineAndCharacterOfPosition(from)
      added.push(line, at - lines[line]! + onLine, more.length, of.line, of.character)
      onLine += more.length
      edited += text.slice(done, at) + more
      done = at
    }
    return { text: edited + text.slice(done), added }
  }

  #blanked(): string {
    const { text } = this.source
    let blanked = ''
    let done = 0
    for (const [start, end] of this.#blanks.sort((a, b) => a[0] - b[0])) {
      if (end <= done) continue
      const from = Math.max(start, done)
      blanked += text.slice(done, from) + blank(text.slice(from, end))
      done = end
    }
    return blanked + text.slice(done)
  }
}

const blank = (text: string): string =>
  /[\r\n\u2028\u2029]/.test(text) ? text.replace(/[^\r\n\u2028\u2029]/g, ' ') : ' '.repeat(text.length)

/** What ends before what begins; of what ends the inner first, of what begins the outer. Sorting is stable. */
function inOrder(a: Insertion, b: Insertion): number {
  if (a.at !== b.at) return a.at - b.at
  if (a.start === null) return b.start === null ? a.rank - b.rank : 1
  if (b.start === null) return -1
  return b.start - a.start || Number(a.ofStatement) - Number(b.ofStatement) || b.rank - a.rank
}

/** The place in the old text; lines and columns from 0. */
export function placeBefore(added: Added, line: number, column: number): { line: number; column: number } {
  let shift = 0
  for (let at = 0; at < added.length; at += 5) {
    if (added[at] !== line) continue
    const [from, length] = [added[at + 1]!, added[at + 2]!]
    if (column < from) break
    if (column < from + length) return { line: added[at + 3]!, column: added[at + 4]! }
    shift += length
  }
  return { line, column: column - shift }
}
