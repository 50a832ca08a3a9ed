import { quote } from '../model/ddl.js'
import type { Store } from './database.js'

/** Up to so many columns come faster as one JSON list a column; wider rows come faster row by row (both measured). */
const FEW = 3

/**
 * Runs a query and gives its rows, in sequence. The row that is given is used again for the next one.
 * @param from all that follows the columns: `FROM … WHERE … LIMIT ?`
 * @param of qualifies the columns, where `from` joins
 * @returns how many rows there were
 */
export function readRows(
  store: Store,
  columns: readonly string[],
  from: string,
  parameters: readonly unknown[],
  each: (raw: readonly unknown[]) => void,
  of = '',
): number {
  const prefix = of === '' ? '' : `${quote(of)}.`
  if (columns.length > FEW) {
    const sql = `SELECT ${columns.map((name) => prefix + quote(name)).join(', ')} ${from}`
    const rows = store.rows(sql, ...parameters)
    for (const raw of rows) each(raw)
    return rows.length
  }
  const named = columns.map((name, index) => `${prefix}${quote(name)} AS c${index}`).join(', ')
  const lists = columns.map((_, index) => `json_group_array(c${index})`).join(', ')
  const texts = store.rows(`SELECT ${lists} FROM (SELECT ${named} ${from})`, ...parameters)[0] as string[]
  const values = texts.map((text) => JSON.parse(text) as unknown[])
  const raw: unknown[] = new Array(columns.length)
  const count = values[0]!.length
  for (let row = 0; row < count; row++) {
    for (let column = 0; column < columns.length; column++) raw[column] = values[column]![row]
    each(raw)
  }
  return count
}
