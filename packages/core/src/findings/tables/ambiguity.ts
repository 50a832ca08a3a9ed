import parser, { type Group, type Quantifier, type RootNode } from 'regjsparser'

/**
 * Can a backtracking matcher of a pattern need time that doubles with each character? It can where a loop can read one text in two
 * ways: where the pattern's automaton is exponentially ambiguous (Weber and Seidl, On the degree of ambiguity of finite automata, 1991;
 * the automaton is Glushkov's, with one state for each place of the pattern that reads a character). What is merely slow on long texts,
 * such as two loops in sequence, passes.
 */

const FEATURES = { lookbehind: true, namedGroups: true, unicodePropertyEscape: true } as const
type Features = typeof FEATURES
type Node = RootNode<Features> | Quantifier<Features>
/** Larger automata are not looked at: the search goes over pairs of states. */
const MOST_STATES = 250
/** Characters that report the usual classes apart; those of the pattern are added. */
const SAMPLES = [
  ...Array.from({ length: 95 }, (_, i) => String.fromCharCode(32 + i)),
  '\t',
  '\n',
  'é',
  'Ω',
  '中',
  '٣',
  '\u00a0',
  '\u0301',
  '😀',
]

class TooLarge extends Error {}

/** A part of the pattern: which states can come first and last in it, and whether it can read nothing. */
interface Part {
  first: number[]
  last: number[]
  empty: boolean
}
const NOTHING: Part = { first: [], last: [], empty: true }

class Automaton {
  /** By state: which of the alphabet it reads. */
  readonly reads: boolean[][] = []
  /** By state: the states that can come next, and whether in more than one way. */
  readonly next: Map<number, boolean>[] = []
  readonly alphabet: string[]

  constructor(pattern: string) {
    this.alphabet = [...new Set([...SAMPLES, ...pattern])]
  }

  reading(raw: string): Part {
    if (this.reads.length >= MOST_STATES) throw new TooLarge()
    const one = new RegExp(`^(?:${raw})$`, 'u')
    const state = this.reads.push(this.alphabet.map((character) => one.test(character))) - 1
    this.next.push(new Map())
    return { first: [state], last: [state], empty: false }
  }

  follow(last: readonly number[], first: readonly number[]): void {
    for (const from of last) for (const to of first) this.next[from]!.set(to, this.next[from]!.has(to))
  }

  then(a: Part, b: Part): Part {
    this.follow(a.last, b.first)
    return {
      first: a.empty ? [...a.first, ...b.first] : a.first,
      last: b.empty ? [...a.last, ...b.last] : b.last,
      empty: a.empty && b.empty,
    }
  }

  build(node: Node): Part {
    switch (node.type) {
      case 'alternative':
        return (node.body as Node[]).reduce((part, each) => this.then(part, this.build(each)), NOTHING)
      case 'disjunction': {
        const parts = (node.body as Node[]).map((each) => this.build(each))
        return {
          first: parts.flatMap((part) => part.first),
          last: parts.flatMap((part) => part.last),
          empty: parts.some((part) => part.empty),
        }
      }
      case 'group': {
        const { behavior, body } = node as Group<Features>
        const looks = behavior !== 'normal' && behavior !== 'ignore'
        return looks ? NOTHING : (body as Node[]).reduce((part, each) => this.then(part, this.build(each)), NOTHING)
      }
      case 'quantifier':
        return this.repeat(node as Quantifier<Features>)
      case 'value':
      case 'dot':
      case 'characterClass':
      case 'characterClassEscape':
      case 'unicodePropertyEscape':
        return this.reading(node.raw)
      default:
        return NOTHING
    }
  }

  /** `x{2,4}` is x, x, and twice an x that may be left out with what follows it; `x*` leads from its end to its beginning. */
  repeat({ min, max, body }: Quantifier<Features>): Part {
    const again = () => this.build(body[0] as Node)
    let part = NOTHING
    for (let i = 0; i < min - (max === undefined ? 1 : 0); i++) part = this.then(part, again())
    if (max === undefined) {
      const loop = again()
      this.follow(loop.last, loop.first)
      return this.then(part, { ...loop, empty: loop.empty || min === 0 })
    }
    let rest = NOTHING
    for (let i = min; i < max; i++) rest = { ...this.then(again(), rest), empty: true }
    return this.then(part, rest)
  }
}

/** @returns for each node of a graph the number of its strongly connected component (Tarjan 1972, without recursion) */
function components(count: number, next: (node: number) => readonly number[]): Int32Array {
  const [index, low, component] = [new Int32Array(count).fill(-1), new Int32Array(count), new Int32Array(count).fill(-1)]
  const [stack, path]: [number[], { node: number; edges: readonly number[]; at: number }[]] = [[], []]
  let [seen, made] = [0, 0]
  const enter = (node: number) => {
    index[node] = low[node] = seen++
    stack.push(node)
    path.push({ node, edges: next(node), at: 0 })
  }
  for (let root = 0; root < count; root++) {
    if (index[root] === -1) enter(root)
    while (path.length > 0) {
      const step = path[path.length - 1]!
      const { node } = step
      const to = step.edges[step.at++]
      if (to === undefined) {
        path.pop()
        const before = path[path.length - 1]
        if (before) low[before.node] = Math.min(low[before.node]!, low[node]!)
        if (low[node] === index[node]) {
          for (let top = stack.pop()!; ; top = stack.pop()!) {
            component[top] = made
            if (top === node) break
          }
          made++
        }
      } else if (index[to] === -1) enter(to)
      else if (component[to] === -1) low[node] = Math.min(low[node]!, index[to]!)
    }
  }
  return component
}

/** @returns true where time can double with each character; false where it cannot, or the pattern is too large to tell */
export function isExponential(pattern: string): boolean {
  const automaton = new Automaton(pattern)
  try {
    automaton.build(parser.parse(pattern, 'u', FEATURES) as Node)
  } catch (error) {
    // What cannot be parsed is shown elsewhere.
    if (error instanceof TooLarge || error instanceof SyntaxError) return false
    throw error
  }
  const { next, reads } = automaton
  const size = reads.length
  const single = components(size, (state) => [...next[state]!.keys()])
  // One step within a loop that can be imported two ways.
  for (let from = 0; from < size; from++)
    for (const [to, twice] of next[from]!) if (twice && single[from] === single[to] && loops(next, single, from)) return true
  // Two walks along the same text from one state back to it: in the graph of pairs, (q, q) and some (p, r) lie on one circle.
  const meet = (a: number, b: number) => reads[a]!.some((reading, at) => reading && reads[b]![at])
  const pairs = components(size * size, (pair) => {
    const [a, b] = [Math.floor(pair / size), pair % size]
    const to: number[] = []
    for (const x of next[a]!.keys()) for (const y of next[b]!.keys()) if (meet(x, y)) to.push(x * size + y)
    return to
  })
  const same = new Set<number>()
  for (let state = 0; state < size; state++) same.add(pairs[state * size + state]!)
  for (let pair = 0; pair < size * size; pair++) {
    const [a, b] = [Math.floor(pair / size), pair % size]
    if (a !== b && same.has(pairs[pair]!)) return true
  }
  return false
}

/** Does a walk from the state lead back to it? */
const loops = (next: readonly Map<number, boolean>[], component: Int32Array, state: number): boolean =>
  next[state]!.has(state) || component.filter((each) => each === component[state]).length > 1
