import { parse } from 'csv-parse/sync'
import Papa from 'papaparse'
import { HookError } from '../errors.js'
import { quotedEmpties } from './csv-quotes.js'

/** RFC 4180 CSV as cells: a leaf that knows no tables. Line ends may be mixed; a blank line is a row only of one column. */

/** The parser looks for each line end at every character, so it is not told of those that the text does not have. */
const optionsFor = (text: string, delimiter: string) => ({
  bom: true,
  relax_column_count: true,
  record_delimiter: text.includes('\r') ? ['\r\n', '\n', '\r'] : ['\n'],
  delimiter,
})

/** Delimiters that files from elsewhere may have. */
const DELIMITERS = [',', ';', '\t', '|']
/** Columns of one file, and characters of its first line: more is no table, and would only be worked on for minutes. */
const MOST_COLUMNS = 10_000
const LONGEST_HEADER = 1_000_000

function checkHeader(file: string, text: string, delimiter: string): void {
  const end = text.search(/[\r\n]/)
  const header = end < 0 ? text : text.slice(0, end)
  const bad = (detail: string) => new HookError('project/bad-csv', { file, line: 1, detail })
  if (header.length > LONGEST_HEADER) throw bad(`the header has ${header.length} characters; it may have ${LONGEST_HEADER}`)
  const columns = header.split(delimiter).length
  if (columns > MOST_COLUMNS) throw bad(`the header has ${columns} columns; a file may have ${MOST_COLUMNS}`)
}

/** Rows by which the delimiter is guessed. */
const LOOKED_AT = 100

/** The delimiter by which the first rows come out most even; a comma where none is more even. */
export function delimiterOf(text: string): string {
  const { delimiter } = Papa.parse(text.replace(/^\uFEFF/, ''), {
    preview: LOOKED_AT,
    delimitersToGuess: DELIMITERS,
    skipEmptyLines: true,
  }).meta
  return DELIMITERS.includes(delimiter) ? delimiter : ','
}

export class CsvText {
  /** Rows of cells, the header among them. */
  readonly rows: readonly (readonly string[])[]
  /** Places of these rows among all, blank lines included; null where there are none. */
  #places: number[] | null = null
  #lines: number[] | null = null
  #quoted: ReadonlyMap<number, ReadonlySet<number>> | null = null

  /** @throws HookError project/bad-csv with file and line */
  constructor(
    readonly file: string,
    readonly text: string,
    readonly delimiter = ',',
  ) {
    checkHeader(file, text, delimiter)
    const all = attempt(file, () => parse(text, optionsFor(text, delimiter)) as string[][])
    const isBlank = (cells: readonly string[]) => cells.length === 1 && cells[0] === ''
    const columns = all.find((cells) => !isBlank(cells))?.length ?? 0
    this.rows = all
    if (columns < 2 || !all.some(isBlank)) return
    this.#places = [...all.keys()].filter((at) => !isBlank(all[at]!) || this.#isQuoted(at, 0))
    this.rows = this.#places.map((at) => all[at]!)
  }

  /** Did the empty cell is in quotes? An unquoted empty cell is null, a quoted one is empty text. @param row from 0 */
  quoted(row: number, column: number): boolean {
    return this.#isQuoted(this.#placeOf(row), column)
  }

  #isQuoted(place: number, column: number): boolean {
    this.#quoted ??= this.text.includes('""') ? quotedEmpties(this.text, this.delimiter) : new Map()
    return this.#quoted.get(place)?.has(column) ?? false
  }

  /** The last line of a row, from 1. @param row from 0 */
  lineOf(row: number): number {
    // Parsed once more when somebody wants to know: the first time nobody does.
    this.#lines ??= attempt(this.file, () =>
      (
        parse(this.text, { ...optionsFor(this.text, this.delimiter), info: true }) as unknown as { info: { lines: number } }[]
      ).map(({ info }) => info.lines),
    )
    return this.#lines[this.#placeOf(row)] ?? 1
  }

  #placeOf(row: number): number {
    return this.#places ? this.#places[row]! : row
  }
}

function attempt<T>(file: string, work: () => T): T {
  try {
    return work()
  } catch (error) {
    const { message, lines } = error as Error & { lines?: number }
    throw new HookError('project/bad-csv', { file, line: lines ?? 1, detail: message })
  }
}
