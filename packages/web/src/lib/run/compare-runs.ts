import type { Rehearsal, Value } from '@patient-hook/contract'

/** Two rehearsals side by side: which cells, verdicts, look-ups and counts differ. */

export interface Difference {
  kind: 'value' | 'verdict' | 'look-up' | 'refusal' | 'message' | 'count'
  /** The record and field, the hook, or what is counted. */
  where: string
  /** In the run that was held; null where it has none. */
  before: string | null
  after: string | null
}

type Told = ReadonlyMap<string, string>

export function compareRuns(before: Rehearsal, after: Rehearsal): Difference[] {
  return [
    ...differing('value', valuesOf(before), valuesOf(after)),
    ...differing('verdict', verdictsOf(before), verdictsOf(after)),
    ...differing('look-up', lookupsOf(before), lookupsOf(after)),
    ...differing('refusal', refusalsOf(before), refusalsOf(after)),
    ...differing('message', messagesOf(before), messagesOf(after)),
    ...differing('count', countsOf(before), countsOf(after)),
  ]
}

function differing(kind: Difference['kind'], before: Told, after: Told): Difference[] {
  return [...new Set([...before.keys(), ...after.keys()])]
    .map((where) => ({ kind, where, before: before.get(where) ?? null, after: after.get(where) ?? null }))
    .filter((each) => each.before !== each.after)
}

const said = (value: Value | undefined) => JSON.stringify(value ?? null)

/** Records by name: a new one by its row, or its place among those that ripples made, since its id may be another in each run. */
function namer({ rows }: Rehearsal): (table: string, id: number) => string {
  const names = new Map<string, string>()
  const made = new Map<string, number>()
  for (const { table, id, event, row } of rows) {
    const key = `${table} ${id}`
    if (event !== 'create' || names.has(key)) continue
    const count = (made.get(table) ?? 0) + 1
    if (row === 0) made.set(table, count)
    names.set(key, row === 0 ? `new ${table} of a ripple, ${count}` : `new ${table}, row ${row}`)
  }
  return (table, id) => names.get(`${table} ${id}`) ?? `${table} ${id}`
}

/** The final state of each record. */
function valuesOf(run: Rehearsal): Told {
  const name = namer(run)
  const cells = new Map<string, string>()
  for (const row of run.rows)
    for (const { field, to, by } of row.changes) cells.set(`${name(row.table, row.id)}.${field}`, `${said(to)} (${by})`)
  return cells
}

function verdictsOf(run: Rehearsal): Told {
  const name = namer(run)
  return new Map(
    run.verdicts.map(({ hook, table, id, depth, verdict, reason }) => [
      `${hook} for ${name(table, id)}${depth ? `, depth ${depth}` : ''}`,
      reason ? `${verdict}: ${reason}` : verdict,
    ]),
  )
}

function lookupsOf({ lookups }: Rehearsal): Told {
  const told = new Map<string, string>()
  for (const { hook, part, call, table, asked, found } of lookups) {
    const key = `${hook}, ${part}: ${call} ${table}`
    told.set(key, `${told.has(key) ? `${told.get(key)}; ` : ''}${found} found for ${JSON.stringify(asked)}`)
  }
  return told
}

const refusalsOf = ({ refusals }: Rehearsal): Told =>
  new Map(
    refusals.map(({ row, table, id, field, message }) => [
      `${table ?? ''} ${row ? `row ${row}` : (id ?? '')} ${field ?? ''}`.trim(),
      message,
    ]),
  )

const messagesOf = ({ sent }: Rehearsal): Told =>
  new Map(sent.map(({ channel, hook, message }, index) => [`${channel}, ${index + 1}`, `${JSON.stringify(message)} (${hook})`]))

const COUNTS = ['queries', 'rowsRead', 'rowsWritten', 'steps', 'ripples'] as const
const WORDS = { queries: 'queries', rowsRead: 'rows read', rowsWritten: 'rows written', steps: 'steps', ripples: 'ripple depth' }
const countsOf = ({ spent }: Rehearsal): Told => new Map(COUNTS.map((each) => [WORDS[each], String(spent[each] ?? 0)]))
