import { parse } from 'csv-parse/sync'
import { HookError } from '../errors.js'

/** RFC 4180 CSV as cells: a leaf that knows no tables. */

const OPTIONS = { bom: true, skip_empty_lines: true, relax_column_count: true } as const

export class CsvText {
  /** Rows of cells, the header among them. */
  readonly rows: readonly (readonly string[])[]
  #details: { quoted: boolean[]; line: number }[] | null = null

  /** @throws HookError project/bad-csv with file and line */
  constructor(
    readonly file: string,
    readonly text: string,
  ) {
    this.rows = attempt(file, () => parse(text, OPTIONS) as string[][])
  }

  /** Did the cell stand in quotes? An unquoted empty cell is null, a quoted one is empty text. @param row from 0 */
  quoted(row: number, column: number): boolean {
    return this.text.includes('""') && (this.#detailsOf(row).quoted[column] ?? false)
  }

  /** The last line of a row, from 1. @param row from 0 */
  lineOf(row: number): number {
    return this.#detailsOf(row).line
  }

  /** Asking for these costs ten times the parsing (measured), so it is done when somebody wants to know. */
  #detailsOf(row: number): { quoted: boolean[]; line: number } {
    this.#details ??= attempt(this.file, () => {
      const rows = parse(this.text, {
        ...OPTIONS,
        info: true,
        cast: (_: string, context: { quoting: boolean }) => context.quoting,
      }) as unknown as { record: boolean[]; info: { lines: number } }[]
      return rows.map(({ record, info }) => ({ quoted: record, line: info.lines }))
    })
    return this.#details[row] ?? { quoted: [], line: 1 }
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
