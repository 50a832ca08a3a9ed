import Database from 'better-sqlite3'
import { HookError } from '../errors.js'
import { readChecks } from './check-constraints.js'
import type { AdoptionNote, Source, SourceColumn, SourceLink, SourceTable, SourceValue } from './source.js'

/** Reads a SQLite database of another program: its schema by SQLite's own pragmas, and its rows. The file is opened for reading only. */

interface ColumnInfo {
  name: string
  type: string
  notnull: bigint
  dflt_value: string | null
  /** Its place in the primary key, from 1. */
  pk: bigint
  /** 1: of a virtual table, 2 and 3: computed. */
  hidden: bigint
}
interface IndexInfo {
  name: string
  unique: bigint
  origin: string
  partial: bigint
}
interface KeyInfo {
  id: bigint
  table: string
  from: string
  to: string | null
  on_delete: string
}

const ON_DELETE: Readonly<Record<string, SourceLink['onDelete']>> = { CASCADE: 'cascade', 'SET NULL': 'clear' }
/** As another program's: `quote` of the store takes names of a model only. */
const quoted = (name: string): string => `"${name.replaceAll('"', '""')}"`

/** @throws HookError adopt/bad-source where the file cannot be read as a SQLite database */
export function readSqlite(file: string): Source {
  let db: Database.Database | null = null
  try {
    db = new Database(file, { readonly: true, fileMustExist: true })
    db.defaultSafeIntegers(true)
    return new SqliteReader(db).read()
  } catch (error) {
    if (HookError.is(error)) throw error
    throw new HookError('adopt/bad-source', { file, detail: (error as Error).message })
  } finally {
    db?.close()
  }
}

class SqliteReader {
  readonly #notes: AdoptionNote[] = []
  constructor(private readonly db: Database.Database) {}

  read(): Source {
    const tables = this.#tables().map(({ name, sql }) => this.#table(name, sql))
    for (const { type, name, tbl_name } of this.#all<{ type: string; name: string; tbl_name: string }>(
      `SELECT type, name, tbl_name FROM sqlite_schema WHERE type IN ('view', 'trigger') ORDER BY type, name`,
    ))
      this.#note(
        type === 'view' ? name : tbl_name,
        null,
        type === 'view'
          ? 'a view is not carried over'
          : `the trigger ${name} is not carried over: write a hook that does the same`,
      )
    return { tables, notes: this.#notes }
  }

  #tables(): { name: string; sql: string }[] {
    const listed = this.#all<{ name: string; type: string }>(`SELECT name, type FROM pragma_table_list WHERE schema = 'main'`)
    for (const { name, type } of listed) if (type === 'virtual') this.#note(name, null, 'a virtual table is not carried over')
    const plain = new Set(listed.filter(({ type }) => type === 'table').map(({ name }) => name))
    return this.#all<{ name: string; sql: string }>(
      `SELECT name, sql FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite\\_%' ESCAPE '\\' ORDER BY rowid`,
    ).filter(({ name }) => plain.has(name))
  }

  #table(name: string, sql: string): SourceTable {
    const all = this.#all<ColumnInfo>(`SELECT * FROM pragma_table_xinfo(?)`, name)
    const infos = all.filter(({ hidden }) => hidden !== 1n)
    for (const { name: column, hidden } of infos)
      if (hidden > 1n)
        this.#note(name, column, 'a computed column becomes a field with its values: write a hook that computes it')
    const key = infos.filter(({ pk }) => pk > 0n).sort((a, b) => Number(a.pk - b.pk))
    const idColumn = key.length === 1 && /^INTEGER$/i.test(key[0]!.type) && !/WITHOUT\s+ROWID/i.test(sql) ? key[0]!.name : null
    const { byColumn, others } = readChecks(sql, (column) =>
      infos.some((info) => info.name.toLowerCase() === column.toLowerCase() && /INT/i.test(info.type)),
    )
    for (const check of others)
      this.#note(name, null, `CHECK (${check}) is not carried over: write a hook that refuses such rows`)
    const columns = infos.map((info): SourceColumn => {
      const said = byColumn.get(info.name.toLowerCase()) ?? { choices: null, minimum: null, maximum: null }
      const isKey = info.pk > 0n
      return {
        name: info.name,
        declared: info.type,
        required: info.notnull === 1n || isKey,
        default: this.#default(name, info),
        ...said,
      }
    })
    const { unique, indexed } = this.#indexes(name)
    return {
      name,
      columns,
      idColumn,
      unique: idColumn === null && key.length > 0 ? [key.map((info) => info.name), ...unique] : unique,
      indexed,
      links: this.#links(name),
      rows: this.#rows(name, columns),
    }
  }

  #rows(name: string, columns: readonly SourceColumn[]): SourceValue[][] {
    const list = columns.map((column) => quoted(column.name)).join(', ')
    const rows = this.db
      .prepare(`SELECT ${list} FROM ${quoted(name)}`)
      .raw()
      .all() as SourceValue[][]
    // Whole numbers come as bigint, so that none loses digits without a word.
    return rows.map((row) =>
      row.map((value) => (typeof value === 'bigint' && Number.isSafeInteger(Number(value)) ? Number(value) : value)),
    )
  }

  #indexes(table: string): { unique: string[][]; indexed: string[] } {
    const unique: string[][] = []
    const indexed: string[] = []
    for (const index of this.#all<IndexInfo>(`SELECT * FROM pragma_index_list(?)`, table)) {
      if (index.origin === 'pk') continue
      const names = this.#all<{ name: string | null }>(`SELECT name FROM pragma_index_info(?)`, index.name).map(
        ({ name }) => name,
      )
      const columns = names.filter((name) => name !== null)
      const isPlain = index.partial === 0n && columns.length === names.length
      if (index.unique === 1n && isPlain) unique.push(columns)
      else if (index.unique === 1n)
        this.#note(table, null, `the unique index ${index.name} covers some rows or an expression only and is not carried over`)
      else if (isPlain && columns.length === 1) indexed.push(columns[0]!)
    }
    // Each set once, in a steady order.
    return { unique: [...new Map(unique.reverse().map((set) => [set.join('\0'), set])).values()], indexed }
  }

  #links(table: string): SourceLink[] {
    const keys = new Map<bigint, KeyInfo[]>()
    for (const key of this.#all<KeyInfo>(`SELECT * FROM pragma_foreign_key_list(?)`, table))
      keys.set(key.id, [...(keys.get(key.id) ?? []), key])
    return [...keys.values()].flatMap((parts) => {
      const [key] = parts
      if (parts.length === 1)
        return [{ column: key!.from, table: key!.table, to: key!.to, onDelete: ON_DELETE[key!.on_delete] ?? 'refuse' }]
      this.#note(
        table,
        null,
        `the foreign key (${parts.map(({ from }) => from).join(', ')}) of several columns stays plain fields`,
      )
      return []
    })
  }

  /** What a literal default stands for; anything else is reported. */
  #default(table: string, { name, dflt_value: text }: ColumnInfo): SourceColumn['default'] {
    if (text === null || /^null$/i.test(text)) return null
    if (/^[-+]?\d+(\.\d+)?$/.test(text)) return Number(text)
    if (/^(true|false)$/i.test(text)) return text.toLowerCase() === 'true'
    if (/^'(?:[^']|'')*'$/.test(text)) return text.slice(1, -1).replaceAll("''", "'")
    this.#note(table, name, `the default ${text} is not carried over: set it in a before-save hook`)
    return null
  }

  #note(about: string, column: string | null, detail: string): void {
    this.#notes.push({ about, column, detail })
  }

  #all<T>(sql: string, ...values: string[]): T[] {
    return this.db.prepare(sql).all(...values) as T[]
  }
}
