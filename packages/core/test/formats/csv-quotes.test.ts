import { parse } from 'csv-parse/sync'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { quotedEmpties } from '../../src/formats/csv-quotes.js'

/** The oracle is csv-parse, which reports of each cell whether it was in quotes. */

function byParser(text: string, delimiter: string): string[] {
  const rows = parse(text, {
    bom: true,
    relax_column_count: true,
    record_delimiter: ['\r\n', '\n', '\r'],
    delimiter,
    cast: (value: string, { quoting }: { quoting: boolean }) => (quoting && value === '' ? 'Q' : 'x'),
  }) as unknown as string[][]
  return rows.flatMap((cells, row) => cells.flatMap((cell, column) => (cell === 'Q' ? [`${row} ${column}`] : [])))
}
const ours = (text: string, delimiter: string) =>
  [...quotedEmpties(text, delimiter)].flatMap(([row, columns]) => [...columns].map((column) => `${row} ${column}`))

test('finds the same cells as a parser that looks at each', () => {
  const quoted = fc.stringMatching(/^([ab,;\t\n\r]|""){0,4}$/).map((inner) => `"${inner}"`)
  const cell = (delimiter: string) =>
    fc.oneof(quoted, fc.stringMatching(/^[ab .]{0,3}$/), fc.constant('""'), fc.constant(delimiter === ';' ? ',' : ';'))
  const text = fc.constantFrom(',', ';', '\t').chain((delimiter) =>
    fc.record({
      delimiter: fc.constant(delimiter),
      mark: fc.constantFrom('', '\uFEFF'),
      rows: fc.array(
        fc.tuple(
          fc.array(cell(delimiter), { maxLength: 4 }).map((cells) => cells.join(delimiter)),
          fc.constantFrom('\r\n', '\n', '\r'),
        ),
        { maxLength: 6 },
      ),
      last: fc.array(cell(delimiter), { maxLength: 3 }).map((cells) => cells.join(delimiter)),
    }),
  )
  fc.assert(
    fc.property(text, ({ delimiter, mark, rows, last }) => {
      const whole = mark + rows.map((row) => row.join('')).join('') + last
      expect(ours(whole, delimiter)).toEqual(byParser(whole, delimiter))
    }),
    { numRuns: 3000 },
  )
})
