/** Where a CSV has quotes around nothing: what sets an empty text apart from a cell that is empty. */

const [QUOTE, CR, LF] = [34, 13, 10]

/**
 * RFC 4180, rows ended by CR LF, LF or CR, of a text that a parser has found to be well-formed. A byte order mark is passed over.
 * @returns by row, from 0 and blank lines included: the columns, from 0
 */
export function quotedEmpties(text: string, delimiter: string): Map<number, Set<number>> {
  const empties = new Map<number, Set<number>>()
  const comma = delimiter.charCodeAt(0)
  let at = text.charCodeAt(0) === 0xfeff ? 1 : 0
  let [row, column] = [0, 0]
  while (at < text.length) {
    if (text.charCodeAt(at) === QUOTE) {
      const begun = at + 1
      let end = text.indexOf('"', begun)
      while (end >= 0 && text.charCodeAt(end + 1) === QUOTE) end = text.indexOf('"', end + 2)
      if (end < 0) return empties
      if (end === begun) {
        const columns = empties.get(row)
        if (columns) columns.add(column)
        else empties.set(row, new Set([column]))
      }
      at = end + 1
    }
    // To the end of the cell.
    let code = text.charCodeAt(at)
    while (at < text.length && code !== comma && code !== CR && code !== LF) code = text.charCodeAt(++at)
    if (code === comma) column++
    else {
      if (code === CR && text.charCodeAt(at + 1) === LF) at++
      row++
      column = 0
    }
    at++
  }
  return empties
}
