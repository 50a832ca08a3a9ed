import type { InputRow, Value } from '@patient-hook/contract'
import type { Arbitrary } from 'fast-check'
import type { Field, RecordValues, Table } from '../../model/types.js'
import { distinct, fits, made } from './field-values.js'
import { generator } from './generator.js'
import type { Subject } from './subject.js'

/** Batches made from the records of a fixture set and from the schema: what people could type, in every mixture. */

/** A row before it has its place in a batch: what is unique in it is distinguished from other rows by that place. */
export interface RowIdea {
  table: string
  event: 'create' | 'update' | 'delete' | 'copy'
  id: number | null
  values: Record<string, Value>
}

/** @param most rows of a batch */
export function batches(subject: Subject, most: number): Arbitrary<RowIdea[]> {
  const fc = generator()
  return fc.array(ideas(subject), { minLength: 1, maxLength: most }).map(once)
}

/** The rows of a batch as they are given to a save. */
export const rowsOf = (subject: Subject, batch: readonly RowIdea[]): InputRow[] =>
  batch.map((idea, index) => inputOf(subject, idea, index))

/** No record twice in one batch, and none that is copied in it beside; a record may be copied more than once. */
function once(batch: readonly RowIdea[]): RowIdea[] {
  const seen = new Map<string, RowIdea['event']>()
  return batch.filter(({ table, event, id }) => {
    if (id === null) return true
    const key = `${table} ${id}`
    const before = seen.get(key)
    if (before === undefined) seen.set(key, event)
    return before === undefined || (before === 'copy' && event === 'copy')
  })
}

export function ideas(subject: Subject): Arbitrary<RowIdea> {
  const fc = generator()
  const kinds = subject.tables.flatMap((table): Arbitrary<RowIdea>[] => {
    const own = table === subject.table
    const events = own ? subject.events : (['create', 'update', 'delete'] as const)
    const ids = (subject.records.get(table.name) ?? []).map((record) => record.id)
    const values = valuesOf(subject, table, false)
    const changed = valuesOf(subject, table, true)
    const some: Arbitrary<RowIdea>[] = []
    if (events.includes('create')) {
      some.push(values.map((each) => ({ table: table.name, event: 'create', id: null, values: each })))
      if (ids.length > 0)
        some.push(
          fc
            .tuple(fc.constantFrom(...ids), changed)
            .map(([id, each]) => ({ table: table.name, event: 'copy', id, values: each })),
        )
    }
    if (events.includes('update') && ids.length > 0)
      some.push(
        fc
          .tuple(fc.constantFrom(...ids), changed)
          .map(([id, each]) => ({ table: table.name, event: 'update', id, values: each })),
      )
    if (events.includes('delete') && ids.length > 0)
      some.push(fc.constantFrom(...ids).map((id) => ({ table: table.name, event: 'delete', id, values: {} })))
    return some
  })
  return fc.oneof(...kinds)
}

/** @param part of a record only, as a change is: at least one field that wakes the hook */
function valuesOf(subject: Subject, table: Table, part: boolean): Arbitrary<Record<string, Value>> {
  const fc = generator()
  const fields = table.fields.filter((field) => possible(subject, field).length > 0 || !field.required)
  const woken = table === subject.table ? fields.filter((field) => subject.watched.includes(field.name)) : []
  const entry = (field: Field) => fc.tuple(fc.constant(field.name), valueOf(subject, field))
  const picked = part
    ? fc
        .tuple(someOf(woken.length > 0 ? woken : fields, 1, 4), someOf(fields, 0, 2))
        .map(([first, more]) => [...new Set([...first, ...more])])
    : fc
        .subarray(fields.filter((field) => !field.required))
        .map((some) => fields.filter((field) => field.required || some.includes(field) || woken.includes(field)))
  return picked.chain((chosen) => fc.tuple(...chosen.map(entry)).map((entries) => Object.fromEntries(entries) as RecordValues))
}

const someOf = <T>(all: T[], least: number, most: number): Arbitrary<T[]> =>
  generator().subarray(all, { minLength: Math.min(least, all.length), maxLength: Math.min(most, all.length) })

function valueOf(subject: Subject, field: Field): Arbitrary<Value> {
  const fc = generator()
  const values = possible(subject, field)
  if (values.length === 0) return fc.constant(null)
  // The first ones come more often, so that links are shared.
  const some = fc.oneof(
    { arbitrary: fc.constantFrom(...values.slice(0, 2)), weight: 2 },
    { arbitrary: fc.constantFrom(...values), weight: 3 },
  )
  return field.required ? some : fc.oneof({ arbitrary: some, weight: 4 }, { arbitrary: fc.constant(null), weight: 1 })
}

const MOST_VALUES = 48

/** Values that a field takes: what is in the records, what the hook's code names, and some that the schema allows. */
export function possible(subject: Subject, field: Field): Value[] {
  if (field.link) return (subject.records.get(field.link.table) ?? []).map((record) => record.id)
  if (field.enum) return [...field.enum] as Value[]
  if (field.type === 'boolean') return [true, false]
  const there = subject.tables
    .filter((table) => table.fields.includes(field))
    .flatMap((table) => (subject.records.get(table.name) ?? []).map((record) => record[field.name] ?? null))
  const all: Value[] = [...there, ...made(field), ...subject.literals]
  return [...new Set(all)].filter((value) => value !== null && value !== undefined && fits(field, value)).slice(0, MOST_VALUES)
}

/** @param place in the batch, which reports its unique values from those of other rows */
export function inputOf(subject: Subject, idea: RowIdea, place: number): InputRow {
  const { table, event, id } = idea
  if (event === 'delete') return { table, id: id!, values: {}, remove: true }
  const ofTable = subject.environment.project.tables.get(table)!
  if (event !== 'copy') {
    const values = distinct(ofTable, idea.values, place, 1)
    return event === 'update' ? { table, id: id!, values } : { table, values }
  }
  // What a copy would hold twice is typed again.
  const from = subject.records.get(table)!.find((record) => record.id === id)!
  const own = distinct(ofTable, { ...from, ...idea.values }, place, 2)
  const values: Record<string, Value> = { ...idea.values }
  for (const { name } of ofTable.fields) if ((own[name] ?? null) !== (from[name] ?? null)) values[name] = own[name] ?? null
  return { table, copyOf: id!, values }
}
