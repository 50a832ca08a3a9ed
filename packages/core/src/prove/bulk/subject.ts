import type { BulkPropertyName, Value } from '@patient-hook/contract'
import type { ErrorReport } from '../../errors.js'
import type { Hook } from '../../save/hook.js'
import type { Program } from '../../save/program.js'
import type { SaveEnvironment } from '../../save/save.js'
import { loadRecords, readByIds, retireIds } from '../../store/records.js'
import { shapeOf } from '../../store/shape.js'
import type { EventName } from '../../save/types.js'
import type { Project, RecordValues, Table } from '../../model/types.js'
import { tablesInOrder } from '../../model/order.js'
import { quote } from '../../model/ddl.js'
import { fixtureStore } from '../fixtures/fixture-store.js'
import { copyOf, plainValue } from './field-values.js'

/** What a bulk proof is about: a hook with those it needs, or all hooks of a table, and the records that it is tried on. */
export interface Subject {
  /** Null: the whole save path of the table. */
  hook: Hook | null
  table: Table
  environment: SaveEnvironment
  fixtures: string | null
  /** Only these hooks are live; undefined: all. */
  live: string[] | undefined
  /** The same with only the hooks that the hook needs; null where it needs none. */
  others: Subject | null
  /** Tables of which rows are saved: the hook's own, and those whose saves wake it. */
  tables: Table[]
  events: readonly EventName[]
  /** Fields whose change wakes the hook; none where every change does. */
  watched: readonly string[]
  /** Existing records, some of each table. */
  records: ReadonlyMap<string, readonly RecordValues[]>
  /** Texts and numbers in the hook's code, as values that its guards may ask for. */
  literals: readonly Value[]
  /** Numbers of rows that the code may tell apart. */
  sizes: readonly number[]
  /** Tables that the code names, the hook's own first. */
  named: readonly string[]
  /** How much was tried so far. */
  tally: { rows: number; ran: number; kept: number; failure: ErrorReport | null }
  /** By property: why it need not hold. */
  accepts: Readonly<Partial<Record<BulkPropertyName, string>>>
}

const noTally = (): Subject['tally'] => ({ rows: 0, ran: 0, kept: 0, failure: null })

/** Records of one table that batches are made from. */
const MOST_RECORDS = 12
/** A table with fewer gets some made from its schema. */
const LEAST_RECORDS = 3
/** Larger fixture sets make each try dear. */
const LARGEST_SET = 5000

/** @param hook null for the whole save path of the table */
export function subjectOf(project: Project, program: Program, hook: Hook | null, table: Table): Subject & { close(): void } {
  const tables = [table, ...(hook?.touchedBy ?? []).map((each) => project.tables.get(each.table)!)]
  const fixtures = setFor(project, tables)
  const store = fixtureStore(project, fixtures ?? undefined)
  for (const each of tablesInOrder(project.tables)) fill(store, each)
  setFirstIds(store, [...project.tables.keys()])
  const records = new Map(
    [...project.tables.values()].map((each) => {
      const ids = store.values(`SELECT "id" FROM ${quote(each.name)} ORDER BY "id" LIMIT ?`, MOST_RECORDS) as number[]
      const shape = shapeOf(each)
      return [each.name, [...readByIds(store, shape, ids).values()].map((record) => shape.plain(record))]
    }),
  )
  const live = hook ? needed(program, hook) : undefined
  const code = hook ? codeOf(project, hook) : ''
  const subject: Subject = {
    hook,
    table,
    environment: { project, program, store },
    fixtures,
    live,
    others: null,
    tables,
    events: hook && hook.touchedBy.length === 0 ? [...hook.on] : ['create', 'update'],
    watched: hook?.watch ?? [],
    records,
    literals: literalsOf(code),
    sizes: hook ? sizesIn(code) : [],
    named: [...new Set([...tables.map(({ name }) => name), ...textsIn(code).filter((name) => project.tables.has(name))])],
    tally: noTally(),
    accepts: hook ? acceptsOf(project, hook) : {},
  }
  const others = (live ?? []).filter((name) => name !== hook?.name)
  if (others.length > 0) subject.others = { ...subject, live: others, tally: noTally() }
  return { ...subject, close: () => store.close() }
}

/** Why properties of a hook need not hold, as its plugin.json says. */
const acceptsOf = (project: Project, hook: Hook): Subject['accepts'] =>
  project.plugins.get(hook.plugin)?.hooks.find((each) => each.name === hook.name)?.accepts ?? {}

/**
 * The subject without other hooks that are accepted for a property: their effects would hide those of this one.
 * @returns their names as well
 */
export function withoutAccepted(subject: Subject, property: BulkPropertyName): { subject: Subject; without: string[] } {
  const { project, program } = subject.environment
  const live = subject.live ?? program.hooks.filter((each) => each.state.state !== 'off').map((each) => each.name)
  const without = program.hooks
    .filter(
      (each) => each.name !== subject.hook?.name && live.includes(each.name) && acceptsOf(project, each)[property] !== undefined,
    )
    .map((each) => each.name)
  if (without.length === 0) return { subject, without }
  const left = (names: readonly string[]) => names.filter((name) => !without.includes(name))
  const others = subject.others && left(subject.others.live!)
  return {
    subject: {
      ...subject,
      live: left(live),
      others: others && others.length > 0 ? { ...subject.others!, live: others } : null,
    },
    without,
  }
}

/** The set with the most records of these tables; the first of those that have as many. */
function setFor(project: Project, tables: readonly Table[]): string | null {
  let best: { set: string; count: number } | null = null
  for (const [set, records] of project.fixtures) {
    const all = [...records.values()].reduce((sum, each) => sum + each.length, 0)
    const count = tables.reduce((sum, each) => sum + Math.min(MOST_RECORDS, records.get(each.name)?.length ?? 0), 0)
    if (all <= LARGEST_SET && count > (best?.count ?? 0)) best = { set, count }
  }
  return best?.set ?? [...project.fixtures.keys()][0] ?? null
}

/** Plain records for a table that has next to none. */
function fill(store: SaveEnvironment['store'], table: Table): void {
  const have = store.one(`SELECT count(*) FROM ${quote(table.name)}`) as number
  const highest = store.one(`SELECT coalesce(max("id"), 0) FROM ${quote(table.name)}`) as number
  for (let at = 1; have + at <= LEAST_RECORDS; at++) {
    const id = highest + at
    const plain: RecordValues = { id }
    for (const field of table.fields) {
      // A link is filled where it can be: what hooks read through it is what they are proved on.
      const linked = field.link && (store.one(`SELECT "id" FROM ${quote(field.link.table)} ORDER BY "id" LIMIT 1`) as number)
      plain[field.name] = field.link ? (linked ?? null) : field.required ? plainValue(field, id) : null
    }
    const record = copyOf(table, plain, id, id)
    try {
      store.transaction(() => {
        loadRecords(store, table, [record])
        return { value: undefined, keep: true }
      })
    } catch {
      // What the schema asks for cannot be made up: batches do without.
      return
    }
  }
}

/** The hook, those that must run before it, and those that set what its table requires. */
function needed(program: Program, hook: Hook): string[] {
  const byName = new Map(program.hooks.map((each) => [each.name, each]))
  const names = new Set<string>()
  const add = (name: string): void => {
    if (names.has(name)) return
    names.add(name)
    for (const first of byName.get(name)?.after ?? []) add(first)
  }
  add(hook.name)
  for (const { table } of [hook, ...hook.touchedBy]) {
    const fields = program.project.tables.get(table)!.fields
    for (const other of program.of(table, 'before-save')) {
      const sets = (other.writes ?? []).some((name) => fields.some((field) => field.name === name && field.required))
      if (sets && other.state.state !== 'off') add(other.name)
    }
  }
  return [...names]
}

/**
 * Ids that records get in trials: such as no other number there is, and of no two tables the same, so they are known where a
 * hook writes them into texts.
 */
function setFirstIds(store: SaveEnvironment['store'], tables: readonly string[]): void {
  const highest = tables.map((table) => store.one(`SELECT coalesce(max("id"), 0) FROM ${quote(table)}`) as number)
  const first = Math.max(90_000, ...highest)
  for (const [at, table] of tables.entries()) retireIds(store, table, [first + at * 10_000])
}

/** The hook's file, and those of its plugin's library that it names. */
function codeOf(project: Project, hook: Hook): string {
  const own = project.files.get(hook.file) ?? ''
  const names = [...own.matchAll(/from\s+'[^'\n]*\/([\w-]+)(?:\.[jt]s)?'/g)].map(([, name]) => name!)
  const used = names.map((name) => project.files.get(`plugins/${hook.plugin}/lib/${name}.ts`) ?? '')
  return [own, ...used].join('\n')
}

const textsIn = (code: string): string[] => [...code.matchAll(/'([^'\n\\]{1,60})'/g)].map((match) => match[1]!)
const numbersIn = (code: string): number[] =>
  [...code.matchAll(/(?<![\w.'])(\d{1,9}(?:\.\d{1,6})?)(?![\w.'])/g)].map((match) => Number(match[1]))

/** Short texts and numbers that is in the code, and the numbers beside these: what a bound tells apart. */
function literalsOf(code: string): Value[] {
  const numbers = numbersIn(code).flatMap((number) => [number, number - 1, number + 1])
  return [...new Set<Value>([...textsIn(code), ...numbers])].slice(0, 90)
}

/** A batch of more rows takes more time than it shows. */
const LARGEST_SIZE = 300
const ANY_SIZES = [25, 100]

/** The whole numbers of the code and those beside them, as numbers of rows, from few to many. */
function sizesIn(code: string): number[] {
  const counts = numbersIn(code).filter((number) => Number.isInteger(number) && number >= 2 && number < LARGEST_SIZE)
  const sizes = new Set([...counts.slice(0, 12).flatMap((count) => [count, count + 1]), ...ANY_SIZES])
  return [...sizes].sort((a, b) => a - b)
}
