import { HookError } from '../errors.js'
import { LONGEST_NAME } from '@patient-hook/contract/limits'
import { fieldHint } from '../model/names.js'
import { cut } from '../text.js'
import { fitsType, isText, keptForm } from '../model/values.js'
import type { Field, RecordValues, Table, Value, Values } from '../model/types.js'
import { quote } from '../model/ddl.js'

/**
 * The run-time twin of a table: record objects with one hidden class, made from rows of SQLite, compared and checked by
 * code that is generated once per table. A field the table does not have is an error when read or written: the
 * prototype's prototype is a trap, which costs nothing as long as only real fields are touched.
 */
export interface Shape {
  readonly table: Table
  readonly fields: readonly Field[]
  readonly index: ReadonlyMap<string, number>
  /** The columns: id, then the fields. */
  readonly names: readonly string[]
  /** Column list `"id", "a", ...` for SELECT. */
  readonly columns: string
  /** The error for a field that the table does not have. */
  unknown(field: string): HookError
  fromRaw(raw: readonly unknown[]): RecordValues
  /** A record with nothing in it. */
  empty(id: number): RecordValues
  copy(record: RecordValues): RecordValues
  /** A plain object, for results, messages and snapshots. */
  plain(record: RecordValues): RecordValues
  /** What JSON.stringify gives of it, in two thirds of the time. */
  json(record: RecordValues): string
  /** Nobody has set any field yet. */
  nobody(): Setters
  /** Were all fields set by the same? */
  setAlike(a: Setters, b: Setters): boolean
  /** Runs an INSERT of id, then fields; booleans as 0 and 1. Arguments come a third cheaper than a list of them (measured). */
  insert(statement: Runnable, record: RecordValues): void
  /** Runs an UPDATE: the fields with these indexes, then the id. */
  update(indexes: readonly number[]): (statement: Runnable, record: RecordValues) => void
  /**
   * Compares with the snapshot; brings the snapshot up to date and notes in `by` who changed which field.
   * @returns how many fields differ; or -1 - i when field i got a value that its type does not allow (nothing is noted
   *   then), or BAD_ID when the id was written
   */
  diff: Diff
  /** The same for some fields only, where no other can have changed. */
  diffOf(names: readonly string[]): Diff
  /** Gives a record the values of the fields with these indexes. */
  take(indexes: readonly number[]): Take
  /** Does it hold what the snapshot says? */
  same(record: RecordValues, snapshot: Values): boolean
  /** Do two records differ in any of these fields? */
  differIn(names: readonly string[]): (a: RecordValues, b: RecordValues) => boolean
  /** Indexes of the fields that differ. */
  differing(a: RecordValues, b: RecordValues): readonly number[]
}

/** A prepared statement. */
export interface Runnable {
  run(...parameters: unknown[]): unknown
}

export type Diff = (record: RecordValues, snapshot: Values, by: Setters, who: number) => number

/** By field, who set it, as a number: see save/program.ts. Objects, since elements of lists are slow to write once prototypes are frozen. */
export type Setters = Record<string, number>

/**
 * Gives a record values in the form in which they are kept, and notes in `by` who changed which field.
 * @returns false where a value does not fit its field, or is missing; then there was no write
 */
export type Take = (record: RecordValues, values: Readonly<Record<string, unknown>>, by: Setters, who: number) => boolean

export const BAD_ID = -1_000_000

const SILENT = new Set([
  'toJSON',
  'then',
  'asymmetricMatch',
  '$$typeof',
  'nodeType',
  'tagName',
  'constructor',
  'inspect',
  '@@__IMMUTABLE_ITERABLE__@@',
  '@@__IMMUTABLE_RECORD__@@',
])

/** The prototype that answers for fields which are not there. */
export function trap(onUnknown: (name: string) => Error, known: ReadonlySet<string>): object {
  return new Proxy(Object.create(null) as object, {
    get(_, key) {
      if (typeof key === 'symbol' || SILENT.has(key) || known.has(key)) return undefined
      if (key in Object.prototype) return Object.prototype[key as keyof object]
      throw onUnknown(key)
    },
    set(_, key, value, receiver) {
      if (typeof key === 'string' && !known.has(key)) throw onUnknown(key)
      Object.defineProperty(receiver, key, { value, writable: true, enumerable: true, configurable: true })
      return true
    },
    has: (_, key) => typeof key === 'string' && known.has(key),
    defineProperty: () => false,
    deleteProperty: () => false,
    setPrototypeOf: () => false,
    preventExtensions: () => false,
  })
}

/** A field's name in generated code: names of the model are never identifiers in it, since they may be reserved words. */
export const at = (name: string): string => `[${JSON.stringify(name)}]`
/** A field of a class; only as a computed one may it be called `constructor`. */
export const keyOf = (name: string): string => (name === 'constructor' ? at(name) : JSON.stringify(name))

/** Held here, since what stands on the globals is slower to reach once they are frozen. */
const { isSafeInteger: isInteger, isFinite } = Number

/** Functions for sets of fields that a table keeps; there could be one for each set. */
const MOST_KEPT = 1000

const shapes = new WeakMap<Table, Shape>()

export function shapeOf(table: Table): Shape {
  let shape = shapes.get(table)
  if (!shape) shapes.set(table, (shape = makeShape(table)))
  return shape
}

const narrowShapes = new WeakMap<Table, Map<string, Shape>>()

/** Tables of which hook code asked for a field that was not read: what is known of its hooks by their syntax is wrong. */
const underread = new WeakSet<Table>()

/** @returns true once after hook code asked for a field of the table that had not been read */
export const wasUnderread = (table: Table): boolean => underread.delete(table)

/** The shape of a table with some of its fields only, for rows of which no more is looked at. Unique sets are left out. */
export function shapeOfFields(table: Table, names: ReadonlySet<string>): Shape {
  let known = narrowShapes.get(table)
  if (!known) narrowShapes.set(table, (known = new Map()))
  const fields = table.fields.filter((field) => names.has(field.name))
  const key = fields.map((field) => field.name).join()
  let shape = known.get(key)
  if (!shape) known.set(key, (shape = makeShape({ ...table, fields, uniqueSets: [] }, table)))
  return shape
}

/** @param whole the table of which `table` has some fields only */
function makeShape(table: Table, whole = table): Shape {
  const { fields } = table
  const names = fields.map((field) => field.name)
  const unknown = (field: string) => {
    if (whole !== table && whole.fields.some(({ name }) => name === field)) underread.add(whole)
    return new HookError('hook/unknown-field', {
      table: table.name,
      field: cut(field, LONGEST_NAME),
      hint: fieldHint(field, whole),
    })
  }
  const prototype = Object.freeze(Object.create(trap(unknown, new Set(['id', ...names]))) as object)

  const lines = (each: (name: string, index: number, field: Field) => string) =>
    names.map((name, i) => each(name, i, fields[i]!)).join('\n')
  const list = (each: (name: string, index: number, field: Field) => string) =>
    names.map((name, i) => each(name, i, fields[i]!)).join(', ')
  const fromRaw = (_: string, i: number, field: Field) =>
    field.type === 'boolean' ? `raw[${i + 1}] === null ? null : raw[${i + 1}] === 1` : `raw[${i + 1}]`
  const toSql = ({ name, type }: Field) =>
    type === 'boolean' ? `o${at(name)} === null ? null : o${at(name)} ? 1 : 0` : `o${at(name)}`
  const ok = (value: string, i: number, field: Field) =>
    field.enum || field.format
      ? `fits[${i}](${value})`
      : `(${value} === null || ${{ string: `typeof ${value} === 'string' && isText(${value})`, boolean: `typeof ${value} === 'boolean'`, integer: `isInteger(${value})`, number: `isFinite(${value})` }[field.type]})`
  /** A date-time that a hook wrote takes the form in which it is kept, and may then be what it was. */
  const count = (name: string, i: number, { format }: Field) =>
    format === 'date-time' ? `o${at(name)} = kept[${i}](o${at(name)}); if (o${at(name)} !== v${at(name)}) n++` : 'n++'
  const inJson = ({ name, type }: Field) =>
    type === 'string' ? `o${at(name)} === null ? null : quoted(o${at(name)})` : `o${at(name)}`
  // Fields are declared, so they are defined rather than set: setting a new one would ask the trap each time.
  const differ = (indexes: readonly number[]) => {
    const each = (line: (name: string, index: number, field: Field) => string) =>
      indexes.map((i) => line(names[i]!, i, fields[i]!)).join('\n')
    return `(o, v, by, who) => {
        let n = 0
        ${each((name, i, field) => `if (o${at(name)} !== v${at(name)}) { if (!${ok(`o${at(name)}`, i, field)}) return ${-1 - i}; ${count(name, i, field)} }`)}
        if (n > 0) { ${each((name) => `if (o${at(name)} !== v${at(name)}) { v${at(name)} = o${at(name)}; by${at(name)} = who }`)} }
        return n
      }`
  }
  const take = (indexes: readonly number[]) => {
    const each = (line: (value: string, name: string, i: number) => string) =>
      indexes.map((i) => line(`v${i}`, names[i]!, i)).join('\n')
    const inKeptForm = (value: string, i: number) => (fields[i]!.format === 'date-time' ? `kept[${i}](${value})` : value)
    return `(o, values, by, who) => {
        ${each((value, name) => `const ${value} = values${at(name)}`)}
        ${each((value, _, i) => `if (!${ok(value, i, fields[i]!)}) return false`)}
        ${each((value, name, i) => `{ const kept${value} = ${inKeptForm(value, i)}; if (o${at(name)} !== kept${value}) by${at(name)} = who; o${at(name)} = kept${value} }`)}
        return true
      }`
  }
  const source = `
    'use strict'
    class Rec {
      id; ${names.map((name) => `${keyOf(name)};`).join(' ')}
      constructor(id${names.map((_, i) => `, v${i}`).join('')}) { this.id = id; ${lines((name, i) => `this${at(name)} = v${i};`)} }
    }
    delete Rec.prototype.constructor
    Object.setPrototypeOf(Rec.prototype, prototype)
    Object.freeze(Rec.prototype)
    return {
      fromRaw: (raw) => new Rec(raw[0]${names.length ? ', ' : ''}${list(fromRaw)}),
      empty: (id) => new Rec(id${names.map(() => ', null').join('')}),
      copy: (o) => new Rec(o.id${names.map((name) => `, o${at(name)}`).join('')}),
      plain: (o) => ({ id: o.id, ${list((name) => `${JSON.stringify(name)}: o${at(name)}`)} }),
      json: (o) => \`{"id":\${o.id}${fields.map((field) => `,"${field.name}":\${${inJson(field)}}`).join('')}}\`,
      nobody: () => ({ ${list((name) => `${JSON.stringify(name)}: 0`)} }),
      setAlike: (a, b) => ${names.map((name) => `a${at(name)} === b${at(name)}`).join(' && ') || 'true'},
      insert: (statement, o) => { statement.run(o.id${fields.map((field) => `, ${toSql(field)}`).join('')}) },
      diffFields: ${differ(names.map((_, i) => i))},
      same: (o, v) => ${names.map((name) => `o${at(name)} === v${at(name)}`).join(' && ') || 'true'},
      differing(a, b) {
        const differ = []
        ${lines((name, i) => `if (a${at(name)} !== b${at(name)}) differ.push(${i})`)}
        return differ
      },
    }`
  const fits = fields.map((field) => (value: unknown) => fitsType(field, value))
  const kept = fields.map((field) => (value: Value) => keptForm(field, value))
  const code = new Function('prototype', 'quoted', 'fits', 'kept', 'isText', 'isInteger', 'isFinite', source) as (
    prototype: object,
    quoted: unknown,
    fits: unknown,
    kept: unknown,
    isText: unknown,
    isInteger: unknown,
    isFinite: unknown,
  ) => Omit<
    Shape,
    'table' | 'fields' | 'index' | 'names' | 'columns' | 'unknown' | 'differIn' | 'update' | 'take' | 'diff' | 'diffOf'
  > & { diffFields: Diff }
  const { diffFields, ...made } = code(prototype, JSON.stringify, fits, kept, isText, isInteger, isFinite)
  const compile = <F>(body: (indexes: readonly number[]) => string) => {
    const known = new Map<string, F>()
    return (indexes: readonly number[]): F => {
      const key = indexes.join()
      if (known.size > MOST_KEPT) known.clear()
      const compiled =
        known.get(key) ??
        (new Function('fits', 'kept', 'isText', 'isInteger', 'isFinite', `'use strict'; return ${body(indexes)}`)(
          fits,
          kept,
          isText,
          isInteger,
          isFinite,
        ) as F)
      known.set(key, compiled)
      return compiled
    }
  }
  const index = new Map(names.map((name, at) => [name, at]))
  const named = <F>(of: (indexes: readonly number[]) => F) => {
    const known = new WeakMap<readonly string[], F>()
    return (wanted: readonly string[]): F => {
      let compiled = known.get(wanted)
      if (!compiled) known.set(wanted, (compiled = of(wanted.map((name) => index.get(name)!).sort((a, b) => a - b))))
      return compiled
    }
  }
  return {
    ...made,
    unknown,
    diff: (record, snapshot, by, who) => (record.id === snapshot['id'] ? diffFields(record, snapshot, by, who) : BAD_ID),
    diffOf: named(compile<Diff>(differ)),
    take: compile<Take>(take),
    differIn: named(
      compile((indexes) => `(a, b) => ${indexes.map((i) => `a${at(names[i]!)} !== b${at(names[i]!)}`).join(' || ') || 'false'}`),
    ),
    update: compile(
      (indexes) => `(statement, o) => { statement.run(${indexes.map((i) => `${toSql(fields[i]!)}, `).join('')}o.id) }`,
    ),
    table,
    fields,
    index,
    names: ['id', ...names],
    columns: ['id', ...names].map(quote).join(', '),
  }
}

/** Gives a new record the values that were typed, field by field. */
export function assign(record: RecordValues, values: Values): void {
  for (const name in values) if (name !== 'id') record[name] = values[name]!
}
