/** Moving about in a grid by keys, as people do in sheets of any kind. */

export interface CellAt {
  row: number
  column: number
}

const STEPS: Record<string, [rows: number, columns: number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  PageUp: [-10, 0],
  PageDown: [10, 0],
  Home: [0, -Infinity],
  End: [0, Infinity],
}

/** @returns the cell that a key leads to, the first one when none was chosen; null for any other key, or an empty grid */
export function cellAfter(key: string, from: CellAt | null, rows: number, columns: number): CellAt | null {
  const step = STEPS[key]
  if (!step || rows === 0 || columns === 0) return null
  if (!from) return { row: 0, column: 0 }
  const within = (value: number, count: number) => Math.min(count - 1, Math.max(0, value))
  return { row: within(from.row + step[0], rows), column: within(from.column + step[1], columns) }
}
