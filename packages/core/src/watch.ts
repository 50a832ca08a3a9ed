/**
 * What the engine's thread shares with the thread that watches it: who is at work, where, and that it still moves. A leaf, so
 * that whatever runs foreign code or foreign patterns can say so.
 */

/** What the cells hold: they are 32-bit integers, named by their index only. */
export type Cells = Record<number, number>

export const CELL = {
  /** Module number × 2^18 + line, written by the hooks' own code. */
  place: 0,
  /** Goes up whenever the engine does something; a watcher sees life by it. */
  pulse: 1,
  /** 1-based row of the input that is being worked on, 0 for none. */
  row: 2,
  /** Who is at work: the number of a hook's name, one of AT_WORK, or 0 for nobody who has to be watched. */
  hook: 3,
  /** 1 while SQLite works, which has its own deadline. */
  inQuery: 4,
  /** Number of the table's name, 0 for none. */
  table: 5,
  id: 6,
  /** Number of `table.field`, while its pattern is tried. */
  field: 7,
  /** 1 when the client disconnected. */
  cancel: 8,
} as const
export const CELLS = 10

/** Who is at work when it is no hook. */
export const AT_WORK = { module: -1, test: -2, pattern: -3, call: -4 } as const

/** Bits of a place that hold the line. */
export const LINE_BITS = 18

export function readPlace(value: number): { module: number; line: number } {
  return { module: value >>> LINE_BITS, line: value & (2 ** LINE_BITS - 1) }
}

let cells: Cells = withoutPrototype(new Int32Array(CELLS))

/**
 * Where a prototype is frozen, writing to an element asks whether it may, each time: 65 to 79 ns instead of 1 (measured), before each
 * statement of a hook that calls something.
 */
function withoutPrototype(array: Int32Array): Cells {
  return Object.setPrototypeOf(array, null) as Cells
}

/** The cells of this thread. Compiled code holds on to them: they are set once, before any is loaded. */
export const watchedCells = (): Cells => cells

export function watchWith(shared: Int32Array): void {
  cells = withoutPrototype(shared)
}

export function pulse(): void {
  cells[CELL.pulse] = (cells[CELL.pulse]! + 1) | 0
}

/** A call has ended: nobody is at work. */
export function rest(): void {
  cells[CELL.hook] = 0
  cells[CELL.inQuery] = 0
}

/** Runs work as somebody who is watched, and gives the place back to anyone who had it. */
export function atWork<T>(who: number, work: () => T): T {
  const [hook, place] = [cells[CELL.hook]!, cells[CELL.place]!]
  cells[CELL.hook] = who
  pulse()
  try {
    return work()
  } finally {
    cells[CELL.hook] = hook
    cells[CELL.place] = place
  }
}

/** The one place in which SQLite is called: anyone who watches knows that it is at work, however it ends. */
export function inQuery<T>(work: () => T): T {
  if (cells[CELL.inQuery] === 1) return work()
  cells[CELL.inQuery] = 1
  pulse()
  try {
    return work()
  } finally {
    cells[CELL.inQuery] = 0
    pulse()
  }
}

/** Tries a field's pattern: one that backtracks without end is stopped as a hook would be. */
export function tryPattern(pattern: RegExp, text: string, table: string, field: string): boolean {
  cells[CELL.field] = numberOf('field', `${table}.${field}`)
  return atWork(AT_WORK.pattern, () => pattern.test(text))
}

export type Numbered = 'module' | 'hook' | 'table' | 'field'

/**
 * Names have numbers, so they fit into a cell. A name keeps its number for the life of the process; the thread that
 * watches is notified of every new one before it appears in a cell.
 */
const numbers: Record<Numbered, Map<string, number>> = {
  module: new Map(),
  hook: new Map(),
  table: new Map(),
  field: new Map(),
}
const names: Record<Numbered, string[]> = { module: [], hook: [], table: [], field: [] }
let listener: (kind: Numbered, first: number, names: readonly string[]) => void = () => {}

/** From 1. */
export function numberOf(kind: Numbered, name: string): number {
  const known = numbers[kind].get(name)
  if (known !== undefined) return known
  numberAll(kind, [name])
  return numbers[kind].get(name)!
}

/** Those that have no number yet get theirs, in this order; anyone who listens is reported once. */
export function numberAll(kind: Numbered, all: readonly string[]): void {
  const first = names[kind].length + 1
  for (const name of all) if (!numbers[kind].has(name)) numbers[kind].set(name, names[kind].push(name))
  const added = names[kind].slice(first - 1)
  if (added.length > 0) listener(kind, first, added)
}

export const nameOf = (kind: Numbered, number: number): string | undefined => names[kind][number - 1]

export function onNumber(tell: typeof listener): void {
  listener = tell
}
