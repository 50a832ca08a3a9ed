import { MOST_FIELDS } from '@patient-hook/contract/limits'
import { parseProject } from '../model/project.js'
import { checkRecords, recordFolders } from '../model/record-checks.js'
import { writeCsv } from '../model/record-files.js'
import { fieldNameFrom, newField, tableText, type FieldEdit } from '../model/table-edit.js'
import { parseTable, RESERVED } from '../model/table-file.js'
import type { RecordValues, Value } from '../model/types.js'
import { fieldKind } from './field-kind.js'
import type { AdoptionNote, Source, SourceColumn, SourceLink, SourceTable, SourceValue } from './source.js'

/** A project made of the data of another program: tables, links and records, with a report of what became of everything. */

export interface Adoption {
  /** Text by path. */
  files: ReadonlyMap<string, string>
  tables: readonly { name: string; from: string; records: number }[]
  notes: readonly AdoptionNote[]
}

interface Named {
  source: SourceTable
  name: string
  /** Of each row. */
  ids: readonly number[]
  /** Field by column. */
  fields: ReadonlyMap<string, string>
}

/** @param name of the project @throws HookError where a table cannot be one of a project */
export function adopt(source: Source, name: string): Adoption {
  const notes = [...source.notes]
  const taken = new Set(RESERVED)
  const all = source.tables.map((table): Named => {
    const own = fieldNameFrom(inWords(table.name), taken)
    taken.add(own)
    return named(table, /^(ph|sqlite)_/.test(own) ? `t_${own}` : own, notes)
  })
  const plugin = { name: 'main', version: '0.1.0', description: 'The first hooks' }
  const files = new Map<string, string>([
    ['plugins/main/plugin.json', `${JSON.stringify(plugin, null, 2)}\n`],
    ['project.json', `${JSON.stringify({ name, title: name, users: ['owner'] }, null, 2)}\n`],
    ['.gitignore', '.patient-hook/\nreports/\n'],
  ])
  for (const table of all) {
    const { text, records } = new TableAdoption(table, all, notes).made()
    const file = `tables/${table.name}.json`
    files.set(file, text)
    files.set(`data/${table.name}.csv`, writeCsv(parseTable(file, text), records))
  }
  // As the application will read it: what does not hold is an error now, with its file and line.
  const project = parseProject(files)
  checkRecords(project, recordFolders(project))
  return {
    files,
    tables: all.map((table) => ({ name: table.name, from: table.source.name, records: table.source.rows.length })),
    notes,
  }
}

function named(source: SourceTable, name: string, notes: AdoptionNote[]): Named {
  const at = source.columns.findIndex((column) => column.name === source.idColumn)
  const values = source.rows.map((row) => row[at] ?? null)
  const isId = (value: SourceValue) => Number.isSafeInteger(value) && (value as number) >= 1
  const keepsIds = at >= 0 && values.every(isId)
  if (at >= 0 && !keepsIds)
    notes.push({ about: source.name, column: source.idColumn, detail: 'ids from 1 are given: a key is below 1 or too large' })
  if (keepsIds && source.idColumn !== 'id')
    notes.push({ about: source.name, column: source.idColumn, detail: 'becomes the id of the record' })
  const taken = new Set<string>([...RESERVED, 'id'])
  const fields = new Map<string, string>()
  for (const column of source.columns) {
    if (keepsIds && column.name === source.idColumn) continue
    const field = fieldNameFrom(inWords(column.name), taken)
    taken.add(field)
    fields.set(column.name, field)
  }
  return { source, name, fields, ids: source.rows.map((_, index) => (keepsIds ? (values[index] as number) : index + 1)) }
}

interface MadeField {
  edit: FieldEdit
  column: SourceColumn
  /** Of each record. */
  values: readonly Value[]
}

/** One table, with the others that it links to. */
class TableAdoption {
  constructor(
    private readonly table: Named,
    private readonly all: readonly Named[],
    private readonly notes: AdoptionNote[],
  ) {}

  made(): { text: string; records: RecordValues[] } {
    const { source, name, ids, fields: names } = this.table
    const columns = source.columns.filter((column) => names.has(column.name))
    if (columns.length > MOST_FIELDS)
      for (const { name: column } of columns.splice(MOST_FIELDS))
        this.#note(column, `is left out: a table has at most ${MOST_FIELDS} fields`)
    const made = columns.flatMap((column) => this.#field(column) ?? [])
    const sets = source.unique
      .map((set) => set.map((column) => made.find((each) => each.column.name === column)))
      .filter((set) => set.every((each) => each !== undefined))
      .filter((set) => this.#isUnique(set))
      .map((set) => set.map(({ edit }) => edit.name))
    const fields = made.map(({ edit, column }) => ({
      ...edit,
      unique: sets.some((set) => set.length === 1 && set[0] === edit.name),
      keywords: source.indexed.includes(column.name) ? { 'x-index': true } : {},
    }))
    const together = sets.filter((set) => set.length > 1)
    const edit = {
      name,
      label: labelOf(source.name),
      help: '',
      titleField: titleOf(fields),
      fields,
      keywords: together.length > 0 ? { 'x-unique': together } : {},
    }
    const records = ids.map((id, index) => {
      const values: Record<string, Value> = { id }
      for (const field of made) values[field.edit.name] = field.values[index]!
      return values as RecordValues
    })
    return { text: tableText(edit, null), records }
  }

  /** Values may have become the same, such as two spellings of one moment. */
  #isUnique(set: readonly MadeField[]): boolean {
    const keys = this.table.ids
      .map((_, index) => set.map(({ values }) => values[index]!))
      .filter((values) => values.every((value) => value !== null))
      .map((values) => JSON.stringify(values))
    if (new Set(keys).size === keys.length) return true
    this.#note(set.map(({ column }) => column.name).join(', '), 'is not unique: some records have the same value here')
    return false
  }

  #bounds({ name, minimum, maximum }: SourceColumn, values: readonly Value[]): Pick<FieldEdit, 'minimum' | 'maximum'> {
    const isWithin = values.every(
      (value) => typeof value !== 'number' || ((minimum === null || value >= minimum) && (maximum === null || value <= maximum)),
    )
    if (isWithin) return { minimum, maximum }
    this.#note(name, 'has no bounds: some records are outside of them')
    return { minimum: null, maximum: null }
  }

  /** @returns null where nothing of the column can be a field */
  #field(column: SourceColumn): MadeField | null {
    const { source, fields } = this.table
    const at = source.columns.indexOf(column)
    const values = source.rows.map((row) => row[at]!)
    const base = newField(fields.get(column.name)!, labelOf(column.name))
    const link = source.links.find((each) => each.column.toLowerCase() === column.name.toLowerCase())
    const linked = link ? this.#link(link, values) : null
    const kind = linked ? null : fieldKind(column, values)
    if (!linked && !kind) {
      this.#note(column.name, 'holds binary data only and is left out')
      return null
    }
    kind?.notes.forEach((note) => this.#note(column.name, note))
    const read = linked?.values ?? values.map(kind!.read)
    const isFilled = read.every((value) => value !== null)
    if (column.required && !isFilled) this.#note(column.name, 'is not required: some records have no value that can be kept')
    const shape: Partial<FieldEdit> = linked
      ? { type: 'integer', link: linked.link }
      : {
          type: kind!.type,
          format: kind!.format,
          enum: kind!.enum,
          maxLength: kind!.maxLength,
          ...(kind!.type === 'integer' || kind!.type === 'number' ? this.#bounds(column, read) : {}),
          default: this.#default(column, kind!),
        }
    return { edit: { ...base, ...shape, required: column.required && isFilled }, column, values: read }
  }

  /** Ids of the records that a column's values name. */
  #link(link: SourceLink, values: readonly SourceValue[]): { link: NonNullable<FieldEdit['link']>; values: Value[] } | null {
    const target = this.all.find((each) => each.source.name.toLowerCase() === link.table.toLowerCase())
    const key = link.to ?? target?.source.idColumn ?? target?.source.unique[0]?.[0]
    const at = target?.source.columns.findIndex((column) => column.name.toLowerCase() === key?.toLowerCase()) ?? -1
    if (!target || at < 0) {
      this.#note(link.column, `is no link: there is no table ${link.table} with the column ${key ?? '(key)'}`)
      return null
    }
    const ids = new Map(target.source.rows.map((row, index) => [row[at]!, target.ids[index]!]))
    const found = values.map((value) => (value === null ? null : (ids.get(value) ?? null)))
    const lost = found.filter((id, index) => id === null && values[index] !== null).length
    if (lost > 0)
      this.#note(link.column, `${lost} of ${values.length} records name no ${target.name} that exists: the link is empty there`)
    return { link: { table: target.name, onDelete: link.onDelete }, values: found }
  }

  #default(column: SourceColumn, kind: NonNullable<ReturnType<typeof fieldKind>>): Value {
    if (column.default === null) return null
    const value = kind.type === 'boolean' ? column.default === true || column.default === 1 : kind.read(column.default)
    const isOfType =
      kind.type === 'integer'
        ? Number.isSafeInteger(value)
        : kind.type === 'number'
          ? Number.isFinite(value)
          : typeof value === kind.type
    const isChoice = kind.enum === null || kind.enum.includes(value as string)
    if (isOfType && isChoice && (kind.format === null || kind.read(value) !== null)) return value
    this.#note(column.name, `the default ${JSON.stringify(column.default)} does not fit and is not carried over`)
    return null
  }

  #note(column: string, detail: string): void {
    this.notes.push({ about: this.table.source.name, column, detail })
  }
}

/** "order_items" and "OrderItems" become "order items" and "Order Items". */
const inWords = (name: string): string =>
  name
    .replace(/([a-z0-9])([A-Z])/g, '$1 $2')
    .replace(/[_\s]+/g, ' ')
    .trim()

/** "order_items" and "OrderItems" become "Order items". */
function labelOf(name: string): string {
  const words = inWords(name)
  return words === '' ? name : words.charAt(0).toUpperCase() + words.slice(1).toLowerCase()
}

/** What people call a record. */
function titleOf(fields: readonly FieldEdit[]): string | null {
  const texts = fields.filter(({ type, format, enum: choices }) => type === 'string' && format === null && choices === null)
  const byName = ['name', 'title', 'label', 'code', 'number'].flatMap((word) => texts.filter(({ name }) => name === word))
  const others = texts.filter(({ name, required, unique }) => unique || (required && /name|title/.test(name)))
  return [...byName, ...others, ...texts.filter(({ name }) => /name|title/.test(name))][0]?.name ?? null
}
