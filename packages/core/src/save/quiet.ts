import { quote } from '../model/ddl.js'
import type { Field, Table, Value } from '../model/types.js'
import { boundsCheck, fitsType, keptForm } from '../model/values.js'
import { askSet } from '../store/set-asks.js'
import type { SetWrite } from '../store/set-source.js'
import { isClosed } from './closed.js'
import type { Hook } from './hook.js'
import type { Session } from './session.js'

/**
 * Where nothing looks at the single record, many may be written as a set: no hook wakes, and no check can refuse one of them and not the
 * others. Where that is not certain, records go through the stations one at a time, so the result of a save is the same.
 */

/** Hooks of the table that run where these fields of a record are updated, unless `only` says no. @param ripple not typed */
export function couldWake(session: Session, table: Table, fields: readonly Field[], ripple: boolean): Hook[] {
  const changing = new Set(fields.map(({ name }) => name))
  return (['before-save', 'after-save', 'before-commit'] as const).flatMap((moment) =>
    session.program
      .at(table.name, moment)
      .filter(
        (hook) =>
          isClosed(session, hook) === null &&
          !(ripple && hook.ripples === 'none') &&
          (session.wakes(hook) ||
            (hook.on.has('update') && (hook.watch === null || hook.watch.some((name) => changing.has(name))))),
      ),
  )
}

/** Does the save tell of every record, or is somebody to be asked about each? */
export const tellsOfEach = ({ options }: Session): boolean => Boolean(options.record) || options.recorder !== undefined

/** Are the fields free of what has to be compared between records? */
export const standAlone = (table: Table, fields: readonly Field[]): boolean =>
  !fields.some(({ name, unique }) => unique || table.uniqueSets.some((set) => set.includes(name)))

/** The values in the form in which they are kept; null where one of them would be refused. */
export function fitting(session: Session, table: Table, fields: readonly Field[], values: readonly Value[]): Value[] | null {
  const kept: Value[] = []
  for (const [index, field] of fields.entries()) {
    const given = values[index]!
    if (!fitsType(field, given)) return null
    const value = keptForm(field, given)
    if (value === null ? field.required : boundsCheck(table.name, field)?.(value)) return null
    kept.push(value)
  }
  return kept
}

/** Are all records there that the fields would link to? */
export function linksStand(session: Session, fields: readonly Field[], rows: readonly (readonly Value[])[]): boolean {
  return fields.every(({ link }, index) => {
    if (!link) return true
    const ids = new Set(rows.flatMap((values) => (values[index] === null ? [] : [values[index] as number])))
    const there = session.present(link.table, ids)
    return [...ids].every((id) => there.has(id))
  })
}

/** Is what the records of the set have in other fields than these within bounds? Bounds may have become narrower since they were written. */
export function othersFit(session: Session, set: SetWrite, fields: readonly Field[]): boolean {
  const doubts = doubtsAboutOthers(set.table, fields)
  if (doubts.length > 0 && askSet(session.store, set, [`count(*) FILTER (WHERE ${doubts.join(' OR ')})`])[0] !== 0) return false
  return otherListsFit(session, set.table, () => set, fields)
}

const othersThan = ({ fields: all }: Table, fields: readonly Field[]): Field[] => all.filter((field) => !fields.includes(field))

/** SQL that holds for records of which a value in other fields than these may be out of bounds; patterns and multiples apart. */
export const doubtsAboutOthers = (table: Table, fields: readonly Field[]): string[] =>
  othersThan(table, fields).flatMap((field) => doubtsOf(field))

/**
 * Is what the records of a set have in other fields than these what patterns and multiples ask for? SQLite cannot tell.
 * @param set made where there is something to ask
 */
export function otherListsFit(session: Session, table: Table, set: () => SetWrite, fields: readonly Field[]): boolean {
  const lists = othersThan(table, fields).filter((field) => field.pattern !== null || field.multipleOf !== null)
  if (lists.length === 0) return true
  const texts = askSet(
    session.store,
    set(),
    lists.map(({ name }) => `json_group_array(${quote(name)})`),
  )
  return lists.every((field, index) => {
    const check = boundsCheck(table.name, field)!
    return (JSON.parse(texts[index] as string) as Value[]).every((value) => value === null || check(value) === null)
  })
}

/** SQL that holds for a value which may be out of bounds. SQLite counts the characters of a text up to a NUL only. */
function doubtsOf(field: Field): string[] {
  const column = quote(field.name)
  const than = (limit: number | null, operator: string) => (limit === null ? [] : [`${column} ${operator} ${limit}`])
  if (field.type === 'string') {
    const { minLength, maxLength } = field
    return [
      ...(minLength === null ? [] : [`length(${column}) < ${minLength}`]),
      ...(maxLength === null
        ? []
        : [`(octet_length(${column}) > ${maxLength} AND (length(${column}) > ${maxLength} OR instr(${column}, char(0)) > 0))`]),
    ]
  }
  if (field.type === 'boolean') return []
  return [
    ...than(field.minimum, '<'),
    ...than(field.maximum, '>'),
    ...than(field.exclusiveMinimum, '<='),
    ...than(field.exclusiveMaximum, '>='),
  ]
}

/** The records with these ids, as a set of which nothing is written. */
export const recordsWith = (table: Table, ids: readonly number[]): SetWrite => ({
  table,
  fields: [],
  key: 'id',
  rest: {},
  entries: ids.map((key) => ({ key, not: null, values: [] })),
})
