import { HookError, report } from '../errors.js'
import { own } from '../own.js'
import { fieldHint, hintFor } from '../model/names.js'
import type { RecordValues, Table, Value } from '../model/types.js'
import { expectedOf, fitsType, gotOf, keptForm } from '../model/values.js'
import { takeIds } from '../store/records.js'
import type { Shape } from '../store/shape.js'
import { checkExpected } from './expected.js'
import { Layout } from './layout.js'
import type { LevelInput } from './level-input.js'
import { BY_BACKFILL, BY_DEFAULT, TYPED } from './program.js'
import { readOld } from './read-old.js'
import { NO_SNAPSHOT, type SaveRow } from './row.js'
import type { Session } from './session.js'
import type { EventName, InputRow } from './types.js'

/** The first station: typed values are checked against the table, old values are read in one query per table. */

/** Held here, since what stands on the globals is slower to reach once they are frozen. */
const { isSafeInteger } = Number

/** A row that cannot even be read: it is refused before a hook sees it. */
function refuseInput(session: Session, input: LevelInput, error: HookError): void {
  const { report: made } = error
  const asked = input.askedBy ? { hook: input.askedBy.name, file: input.askedBy.file } : {}
  const row = input.row > 0 ? { row: input.row } : {}
  session.refusals.note({ ...asked, ...made, table: made.table ?? input.table, ...row }, input.origin)
}

/** @returns the rows per table that are fit to go on; the rest has been refused */
export function prepareRows(
  session: Session,
  inputs: readonly LevelInput[],
  names: Map<string, { table: string; id: number }>,
): Map<string, SaveRow[]> {
  const byTable = new Map<string, LevelInput[]>()
  for (const input of inputs) {
    if (!session.project.tables.has(input.table)) {
      refuseInput(
        session,
        input,
        new HookError('save/unknown-table', {
          table: input.table,
          hint: hintFor(String(input.table), session.project.tables.keys()),
        }),
      )
      continue
    }
    const list = byTable.get(input.table)
    if (list) list.push(input)
    else byTable.set(input.table, [input])
  }
  const rows = new Map<string, SaveRow[]>()
  for (const [name, list] of byTable) giveIds(session, name, list, names)
  for (const [name, list] of byTable) rows.set(name, readTable(session, session.project.tables.get(name)!, list, names))
  return rows
}

const isCreate = (input: LevelInput) =>
  !input.remove && input.id === undefined && (input.values?.['id'] === undefined || input.copyOf !== undefined)

/** New records get their ids before anything else, so that rows of one document can link to each other. */
function giveIds(
  session: Session,
  table: string,
  inputs: readonly LevelInput[],
  names: Map<string, { table: string; id: number }>,
): void {
  const fresh = session.options.keepIds && session.stage.depth === 0 ? [] : inputs.filter(isCreate)
  const unnumbered = fresh.filter((input) => !session.givenIds.has(input.row))
  let next = unnumbered.length > 0 ? takeIds(session.store, table, unnumbered.length) : 0
  for (const input of fresh) {
    const id = session.givenIds.get(input.row) ?? next++
    if (input.row > 0 && session.options.partial) session.givenIds.set(input.row, id)
    input.fresh = id
    if (session.stage.depth === 0) session.typedBefore(table, id, input.row)
    if (input.as !== undefined) names.set(input.as, { table, id })
  }
}

function readTable(
  session: Session,
  table: Table,
  inputs: readonly LevelInput[],
  names: Map<string, { table: string; id: number }>,
): SaveRow[] {
  const { shape, stored } = readOld(session, table, inputs)
  const rows: SaveRow[] = []
  const looked = session.program.of(table.name, 'before-save').length > 0
  const hooked = session.program.concerns(table.name)
  const layout = new Layout(shape)
  for (const input of inputs) {
    try {
      const given = input.id ?? input.values?.['id']
      const { fresh } = input
      const isNew = fresh !== undefined || (session.options.keepIds === true && session.stage.depth === 0)
      const id = fresh ?? given
      if (typeof id !== 'number' || !isSafeInteger(id) || id < 1)
        throw new HookError('save/wrong-type', {
          table: table.name,
          field: 'id',
          expected: 'the id of a record (an integer)',
          got: gotOf(id),
        })
      const event: EventName = isNew ? 'create' : input.remove ? 'delete' : 'update'
      // The effects of a ripple are merged by record already.
      if (fresh === undefined && session.stage.depth === 0) {
        const first = session.typedBefore(table.name, id, input.row)
        if (first !== undefined) throw new HookError('save/duplicate-row', { table: table.name, id, first, row: input.row })
      }
      const source = input.copyOf ?? id
      const copied = input.copyOf === undefined ? undefined : session.sourceOf(table.name, source)
      const was = isNew && input.copyOf === undefined ? null : (copied ?? stored.get(source) ?? null)
      // The record went earlier in this save (a cascade, say): no record is left to change or remove.
      if (
        was === null &&
        !isNew &&
        (session.touches.removed.get(table.name)?.has(id) || (input.remove && session.stage.depth > 0))
      )
        continue
      if (was === null && (!isNew || input.copyOf !== undefined))
        throw new HookError('save/not-found', { table: table.name, id: source })
      if (input.expect && was) checkExpected(session.store, shape, was, input.expect)
      const row = makeRow(shape, input, id, event, input.copyOf === undefined ? was : null)
      if (row.was && hooked) Object.freeze(row.was)
      if (input.copyOf !== undefined) copyInto(row, was!)
      else if (event === 'create') fillDefaults(row, input)
      if (event !== 'delete') typeValues(session, row, input, names, layout)
      if (session.options.record && session.stage.depth === 0 && row.now) session.notes.typed(table.name, id, typedOf(row, input))
      if (looked && row.now) {
        row.snapshot = shape.plain(row.now)
        // A hook must not turn a field into something else than a value.
        Object.seal(row.now)
      }
      rows.push(row)
      if (session.stage.depth === 0 && session.options.returnRecords) session.inputIds.set(input.row, id)
    } catch (error) {
      if (!(error instanceof HookError)) throw error
      refuseInput(session, input, error)
    }
  }
  return rows
}

function makeRow(shape: Shape, input: LevelInput, id: number, event: EventName, was: RecordValues | null): SaveRow {
  const now = event === 'delete' ? null : was ? shape.copy(was) : shape.empty(id)
  return {
    shape,
    id,
    event,
    was,
    now,
    snapshot: NO_SNAPSHOT,
    by: shape.nobody(),
    asked: input.setBy === undefined ? null : (input.values ?? null),
    askedAt: input.askedAt ?? null,
    copiedFrom: input.copyOf ?? null,
    row: input.row,
    origin: input.origin,
    failed: false,
    refused: false,
    view: null,
  }
}

/** A copy takes every value of its source but those that must be unique. */
function copyInto(row: SaveRow, source: RecordValues): void {
  const { table } = row.shape
  row.shape.fields.forEach((field) => {
    if (field.unique || table.uniqueSets.some((set) => set.includes(field.name) && !field.required)) return
    row.now![field.name] = source[field.name]!
    if (source[field.name] !== null) row.by[field.name] = TYPED
  })
}

/** A field without a typed value begins with the table's default. A typed null stays. */
function fillDefaults(row: SaveRow, { values }: LevelInput): void {
  row.shape.fields.forEach((field) => {
    if (field.default === null || own(values, field.name) !== undefined) return
    row.now![field.name] = field.default
    row.by[field.name] = BY_DEFAULT
  })
}

function typeValues(
  session: Session,
  row: SaveRow,
  input: LevelInput,
  names: Map<string, { table: string; id: number }>,
  layout: Layout,
): void {
  const { shape } = row
  const { backfill } = session.options
  const { values, setBy } = input
  const who = typeof setBy === 'object' ? null : (setBy ?? (backfill ? BY_BACKFILL : TYPED))
  const take = values && who !== null ? layout.takeOf(values) : null
  if (!take?.(row.now!, values!, row.by, who!)) typeByField(shape, row, input, names, who)
  if (backfill && row.row > 0 && row.event === 'update') backfill.number(row, session.series)
}

/** @param who set all of them; null where `setBy` tells that by field */
function typeByField(
  shape: Shape,
  row: SaveRow,
  { values, setBy }: LevelInput,
  names: Map<string, { table: string; id: number }>,
  who: number | null,
): void {
  const { table } = shape
  const now = row.now!
  for (const name in values) {
    let value = values[name]
    if (name === 'id') continue
    const index = shape.index.get(name)
    if (index === undefined)
      throw new HookError('save/unknown-field', { table: table.name, field: name, hint: fieldHint(name, table) })
    if (value === undefined) continue
    const field = shape.fields[index]!
    if (value !== null && typeof value === 'object' && typeof value.ref === 'string' && field.link) {
      const target = names.get(value.ref)
      if (!target || target.table !== field.link.table)
        throw new HookError('save/unknown-ref', { table: table.name, field: name, ref: value.ref })
      value = target.id
    }
    if (!fitsType(field, value))
      throw new HookError('save/wrong-type', { table: table.name, field: name, expected: expectedOf(field), got: gotOf(value) })
    value = keptForm(field, value)
    if (now[name] !== value) row.by[name] = who ?? own(setBy as Record<string, number>, name) ?? TYPED
    now[name] = value
  }
}

/** The values that were typed, as the record holds them before any hook. */
function typedOf({ shape, now }: SaveRow, { values }: LevelInput): RecordValues {
  const names = Object.keys(values ?? {}).filter((name) => shape.index.has(name) && values![name] !== undefined)
  return Object.fromEntries(names.map((name) => [name, now![name]!])) as RecordValues
}

/** For inputs from outside: the form of a row itself. @throws HookError save/bad-input */
export function checkInput(input: unknown, row: number): InputRow {
  const fail = (detail: string) => new HookError({ ...report('save/bad-input', { detail: `row ${row}: ${detail}` }), row })
  if (input === null || typeof input !== 'object' || Array.isArray(input))
    throw fail(`expected { table, values }, but got ${gotOf(input)}`)
  const { table, values, as, copyOf, remove, id, expect, ...rest } = input as Record<string, unknown>
  const [other] = Object.keys(rest)
  if (other !== undefined)
    throw fail(`there is no part ${other}${hintFor(other, ['table', 'values', 'as', 'copyOf', 'remove', 'id', 'expect'])}`)
  if (typeof table !== 'string') throw fail(`table takes a table's name, but got ${gotOf(table)}`)
  if (values !== undefined && (values === null || typeof values !== 'object' || Array.isArray(values)))
    throw fail(`values takes an object, but got ${gotOf(values)}`)
  if (as !== undefined && typeof as !== 'string') throw fail(`as takes a name, but got ${gotOf(as)}`)
  if (copyOf !== undefined && !isSafeInteger(copyOf)) throw fail(`copyOf takes the id of a record, but got ${gotOf(copyOf)}`)
  if (expect !== undefined && (expect === null || typeof expect !== 'object' || Array.isArray(expect)))
    throw fail(`expect takes an object, but got ${gotOf(expect)}`)
  // The usual row is given on as it is: a bulk save should not copy its input.
  if (
    as === undefined &&
    copyOf === undefined &&
    remove === undefined &&
    id === undefined &&
    expect === undefined &&
    values !== undefined &&
    (values as Record<string, unknown>)['id'] !== null
  )
    return input as InputRow
  const inner = (values as InputRow['values'])?.['id']
  if (id !== undefined && inner !== undefined && inner !== null && inner !== id)
    throw fail(`id is ${gotOf(id)}, but the values have ${gotOf(inner)} as id: give one of them`)
  const all = { ...(values as InputRow['values']), ...(id === undefined ? {} : { id: id as Value }) }
  if (remove !== undefined && typeof remove !== 'boolean') throw fail(`remove is true or false, but got ${gotOf(remove)}`)
  if (remove && all['id'] === undefined) throw fail('remove needs the id of the record')
  if (remove && copyOf !== undefined) throw fail('a record is copied or removed, not both: take remove or copyOf out')
  if (all['id'] === null) delete all['id']
  if (expect !== undefined && (all['id'] === undefined || copyOf !== undefined))
    throw fail('expect needs the id of the record that is changed')
  return {
    table,
    values: all,
    ...(as === undefined ? {} : { as }),
    ...(copyOf === undefined ? {} : { copyOf: copyOf as number }),
    ...(remove ? { remove } : {}),
    ...(expect === undefined ? {} : { expect: expect as Record<string, Value> }),
  }
}
