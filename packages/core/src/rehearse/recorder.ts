import type { Value } from '../model/types.js'
import type { Probe } from '../sandbox/probe.js'
import { nameOf, readPlace } from '../watch.js'
import type { Hook } from '../save/hook.js'
import type { SaveRow } from '../save/row.js'
import type { LineTrace, ValueTrace } from '@patient-hook/contract'
import type { SaveRecorder } from '../save/save-recorder.js'
import type { Place } from '../save/types.js'
import { preview } from './preview.js'

export type { LineTrace, ValueTrace } from '@patient-hook/contract'

interface Line {
  runs: number
  turns: number
  values: Map<string, ValueTrace>
}
type Lines = Map<number, Line>

/**
 * Listens to probed code during a rehearsal. Values are kept for one row only, the chosen one; which line set which field
 * is kept for every row.
 */
export class Recorder implements Probe, SaveRecorder {
  readonly #byHook = new Map<string, { row: Lines; batch: Lines }>()
  readonly #writes = new Map<string, number>()
  #lines: Lines | null = null
  #place = 0
  #hook = ''
  #row: SaveRow | null = null
  #seen: Value[] = []
  #pass = 0
  /** In which pass a hook's lines were begun: a partial save goes through the rows again without the refused ones. */
  readonly #begun = new Map<string, number>()

  /** @param focus the id of the chosen row, and its table */
  constructor(private readonly focus: { table: string; id: number } | null) {}

  begin(): void {
    this.#pass++
    this.leave()
  }

  enter(hook: Hook, phase: 'only' | 'load' | 'each' | 'finish'): void {
    this.leave()
    this.#hook = hook.name
    this.#place = 0
    if (phase === 'load' || phase === 'finish') this.#lines = this.#linesOf('batch', phase === 'load')
  }

  row(row: SaveRow): void {
    this.#settle()
    this.#row = row
    this.#place = 0
    this.#seen = row.now && !Object.isFrozen(row.now) ? row.shape.values(row.now) : []
    const { focus } = this
    this.#lines = focus && row.id === focus.id && row.shape.table.name === focus.table ? this.#linesOf('row', false) : null
  }

  leave(): void {
    this.#settle()
    this.#row = null
    this.#lines = null
    this.#seen = []
  }

  /** Within one place nothing has to be told apart: a loop without an end turns there millions of times. */
  #move(place: number): void {
    if (place === this.#place) return
    this.#settle()
    this.#place = place
  }

  /** The line that last set a field of a record, or asked for the effect that did. */
  lineOf(row: SaveRow, field: string): Place | null {
    const place = this.#writes.get(`${row.shape.table.name} ${row.id} ${field}`)
    return place === undefined ? null : placeAt(place)
  }

  here(): Place | null {
    return this.#place === 0 ? null : placeAt(this.#place)
  }

  at(place: number): void {
    this.#move(place)
    const line = this.#lineAt(place)
    if (line) line.runs++
  }

  turn(place: number): void {
    this.#move(place)
    const line = this.#lineAt(place)
    if (line) line.turns++
  }

  value<T>(place: number, name: string, value: T): T {
    // What the expression called has had its own places; what is different now was done by this one.
    this.#place = place
    this.#settle()
    const line = this.#lineAt(place)
    if (line) {
      const known = line.values.get(name)
      const text = preview(value)
      if (known) {
        known.count++
        known.last = text
      } else line.values.set(name, { name, count: 1, first: text, last: text })
    }
    return value
  }

  traces(): LineTrace[] {
    const all: LineTrace[] = []
    for (const [hook, kinds] of this.#byHook)
      for (const of of ['batch', 'row'] as const)
        for (const [place, { runs, turns, values }] of kinds[of]) {
          const { file, line } = placeAt(place)
          all.push({ file, line, hook, of, runs, turns, values: [...values.values()] })
        }
    return all.sort((a, b) => (a.file === b.file ? a.line - b.line : a.file < b.file ? -1 : 1))
  }

  #linesOf(kind: 'row' | 'batch', anew: boolean): Lines {
    let kinds = this.#byHook.get(this.#hook)
    if (!kinds) this.#byHook.set(this.#hook, (kinds = { row: new Map(), batch: new Map() }))
    const key = `${this.#hook} ${kind}`
    // Within a pass a hook's guard and its each go on with the same lines; load begins a batch anew.
    if (anew || this.#begun.get(key) !== this.#pass) kinds[kind] = new Map()
    this.#begun.set(key, this.#pass)
    return kinds[kind]
  }

  #lineAt(place: number): Line | null {
    const lines = this.#lines
    if (!lines) return null
    let line = lines.get(place)
    if (!line) lines.set(place, (line = { runs: 0, turns: 0, values: new Map() }))
    return line
  }

  /** Whatever the row's values became since the last look was done by the line before. */
  #settle(): void {
    const row = this.#row
    if (!row || this.#seen.length === 0 || this.#place === 0) return
    const { now, shape } = row
    for (let i = 0; i < shape.fields.length; i++) {
      const { name } = shape.fields[i]!
      const value = now![name]!
      if (value === this.#seen[i]) continue
      this.#seen[i] = value
      this.#writes.set(`${shape.table.name} ${row.id} ${name}`, this.#place)
    }
  }
}

function placeAt(place: number): Place {
  const { module, line } = readPlace(place)
  return { file: nameOf('module', module) ?? '', line }
}
