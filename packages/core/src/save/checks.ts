import { report, type ErrorReport } from '../errors.js'
import { quote } from '../model/ddl.js'
import type { Field, Value } from '../model/types.js'
import { boundsCheck } from '../model/values.js'
import { jsonNumber, toSql } from '../store/records.js'
import type { Shape } from '../store/shape.js'
import type { SaveRow } from './row.js'
import type { Session } from './session.js'
import { checkAccounted } from './unproved.js'

/** The station after before-save: required fields, bounds, uniqueness and links, on the final values. */

interface FieldCheck {
  field: Field
  bounds: ReturnType<typeof boundsCheck>
}
const plans = new WeakMap<Shape, readonly FieldCheck[]>()

function planOf(shape: Shape): readonly FieldCheck[] {
  let plan = plans.get(shape)
  if (!plan) {
    plan = shape.fields
      .map((field) => ({ field, bounds: boundsCheck(shape.table.name, field) }))
      .filter(({ field, bounds }) => field.required || bounds)
    plans.set(shape, plan)
  }
  return plan
}

/** The ids of a table's records that this level creates, which need not be written yet. */
export type Coming = (table: string) => ReadonlySet<number>

/** @param all rows of the table in the batch, of which these are checked now */
export function checkRows(session: Session, rows: readonly SaveRow[], coming: Coming, all: readonly SaveRow[]): void {
  const [first] = rows
  if (!first) return
  const { shape } = first
  checkAccounted(session, rows)
  const plan = planOf(shape)
  const written = rows.filter((row) => row.now !== null && !row.failed)
  for (const row of plan.length > 0 ? written : []) {
    const now = row.now!
    session.stage.mark(row)
    for (const { field, bounds } of plan) {
      const value = now[field.name]!
      if (value === null) {
        if (field.required) session.refusals.against(row, report('check/required', { field: field.name, label: field.label }))
        continue
      }
      const problem = bounds === null ? null : bounds(value)
      if (problem)
        session.refusals.against(row, report('check/bounds', { field: field.name, label: field.label, detail: problem }))
    }
  }
  const reliances: Reliance[] = []
  for (const field of shape.fields) {
    if (field.unique) reliances.push(...checkUnique(session, written, all, [field]))
    if (field.link) checkLink(session, written, field, coming)
  }
  for (const set of shape.table.uniqueSets) {
    const fields = set.map((name) => shape.fields[shape.index.get(name)!]!)
    reliances.push(...checkUnique(session, written, all, fields))
  }
  settle(session, reliances)
}

/** A row takes a unique value that another row of the batch gives up. */
interface Reliance {
  row: SaveRow
  holder: SaveRow
  /** Where the other one does not give it up after all. */
  refusal: ErrorReport
}

/** A row that was refused after others had counted on it keeps its values, and so on along the chain. */
function settle(session: Session, reliances: readonly Reliance[]): void {
  for (let left = reliances; left.length > 0;) {
    const broken = left.filter(({ row, holder }) => !session.refusals.concern(row) && session.refusals.concern(holder))
    if (broken.length === 0) return
    for (const { row, holder, refusal } of broken) session.refusals.hanging(row, refusal, holder, 'refused')
    left = left.filter((each) => !broken.includes(each))
  }
}

function checkLink(session: Session, rows: readonly SaveRow[], { name, label, link }: Field, coming: Coming): void {
  const target = link!.table
  const known = session.knownIn(target)
  const asking: SaveRow[] = []
  for (const row of rows) {
    const id = row.now![name] as number | null
    if (id === null || known.has(id) || (row.was !== null && row.was[name] === id) || coming(target).has(id)) continue
    asking.push(row)
  }
  if (asking.length === 0) return
  const there = session.present(target, new Set(asking.map((row) => row.now![name] as number)))
  for (const row of asking) {
    const value = row.now![name]
    if (!there.has(value as number)) session.refusals.against(row, report('check/link', { field: name, label, target, value }))
  }
}

/** Values must differ within the batch and from the records that the save does not change. */
function checkUnique(session: Session, rows: readonly SaveRow[], all: readonly SaveRow[], fields: readonly Field[]): Reliance[] {
  const names = fields.map((field) => field.name)
  // Most updates leave unique values as they are.
  if (!rows.some(({ was, now }) => was === null || names.some((name) => was[name] !== now![name]))) return []
  const keyOf = (values: readonly Value[]) => JSON.stringify(values)
  const valuesOf = (record: Record<string, Value>) => names.map((name) => record[name]!)
  const owners = new Map<string, SaveRow>()
  const asking: { row: SaveRow; key: string; values: Value[] }[] = []
  for (const row of rows) {
    const values = valuesOf(row.now!)
    if (values.some((value) => value === null)) continue
    const key = keyOf(values)
    if (row.was !== null && keyOf(valuesOf(row.was)) === key) {
      owners.set(key, row)
      continue
    }
    asking.push({ row, key, values })
  }
  if (asking.length === 0) return []
  const label = fields.map((field) => field.label).join(' and ')
  const refusalOf = (values: readonly Value[], other: string): ErrorReport =>
    report('check/unique', { field: names[0], label, value: values.join(', '), other })
  const inBatch = new Map(all.map((row) => [row.id, row]))
  const now = all === rows ? null : new Set(rows)
  const { table } = asking[0]!.row.shape
  const tuple = names.length === 1 ? quote(names[0]!) : `(${names.map(quote).join(', ')})`
  const picked =
    names.length === 1
      ? jsonNumber(fields[0]!, 'value')
      : fields.map((field, i) => jsonNumber(field, `value ->> ${i}`)).join(', ')
  const given = JSON.stringify(asking.map(({ values }) => (names.length === 1 ? toSql(values[0]!) : values.map(toSql))))
  const stored = session.store.rows(
    `SELECT "id", ${names.map(quote).join(', ')} FROM ${quote(table.name)} WHERE ${tuple} IN (SELECT ${picked} FROM json_each(?))`,
    given,
  )
  const taken = new Map<string, number>()
  /** What records have that are written later in the save, and may give up. */
  const traded = new Map<string, number>()
  /** Records of the batch that are refused, and so keep their values. */
  const held = new Map<number, SaveRow>()
  const released = new Map<string, SaveRow>()
  for (const [id, ...raw] of stored) {
    // A record of this batch gives its value up, unless it keeps it.
    const holder = inBatch.get(id as number)
    const key = keyOf(raw.map((value, i) => (fields[i]!.type === 'boolean' ? value === 1 : value)) as Value[])
    if (session.trades.isComing(table.name, id as number)) {
      traded.set(key, id as number)
      continue
    }
    if (holder && (now === null || now.has(holder) || holder.event === 'delete') && !session.refusals.concern(holder)) {
      released.set(key, holder)
      continue
    }
    if (holder) held.set(id as number, holder)
    taken.set(key, id as number)
  }
  const reliances: Reliance[] = []
  for (const { row, key, values } of asking) {
    const record = taken.get(key)
    const owner = owners.get(key)
    if (record !== undefined) {
      const holder = held.get(record)
      const refusal = refusalOf(values, `${table.name} ${record}`)
      if (holder) session.refusals.hanging(row, refusal, holder, 'refused')
      else session.refusals.against(row, refusal)
    } else if (owner && owner !== row) {
      const refusal = refusalOf(values, owner.row > 0 ? `row ${owner.row} of this save` : `${table.name} ${owner.id}`)
      session.refusals.hanging(row, refusal, owner, 'kept')
    } else {
      owners.set(key, row)
      const holder = released.get(key)
      const later = traded.get(key)
      if (later !== undefined) session.trades.claim(row, fields, refusalOf(values, `${table.name} ${later}`))
      if (holder && holder !== row) reliances.push({ row, holder, refusal: refusalOf(values, `${table.name} ${holder.id}`) })
    }
  }
  return reliances
}
