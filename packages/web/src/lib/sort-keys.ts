/** Orders of a list as written in a URL: field names with commas between, - before one for falling order. */

export interface SortKey {
  name: string
  falling: boolean
}

export const sortKeysIn = (order: string): SortKey[] =>
  order
    .split(',')
    .map((key) => key.trim())
    .filter((key) => key !== '')
    .map((key) => ({ name: key.replace(/^-/, ''), falling: key.startsWith('-') }))

export const orderOf = (keys: readonly SortKey[]): string =>
  keys.map(({ name, falling }) => `${falling ? '-' : ''}${name}`).join(',')

/**
 * The order after a column's head was pressed: rising, then falling, then not by it.
 * @param further the column sorts within the others, instead of them
 */
export function sortedBy(order: string, name: string, further: boolean): string {
  const keys = sortKeysIn(order)
  const known = keys.find((key) => key.name === name)
  if (!further) return known && keys.length === 1 ? (known.falling ? '' : `-${name}`) : name
  if (!known) return orderOf([...keys, { name, falling: false }])
  if (!known.falling) return orderOf(keys.map((key) => (key === known ? { name, falling: true } : key)))
  return orderOf(keys.filter((key) => key !== known))
}
