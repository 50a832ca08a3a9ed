import type { Files, FixtureChange, FixtureRow, FixtureSet, FixtureTable } from '@patient-hook/contract'
import { HookError, type ErrorReport } from '../../errors.js'
import { fixtureFaults, fixtureText, importedRows, readFixtureRows } from '../../model/fixture-rows.js'
import { tableNamed } from '../../model/table-named.js'
import { parentsFirst } from '../../model/order.js'
import type { Table } from '../../model/types.js'
import { madeRows } from '../../prove/fixtures/made-rows.js'
import { withLinked } from '../../store/linked-records.js'
import type { OpenProject } from '../open-project.js'

/** Fixture sets as rows that are being edited. Nothing is kept: what comes back are texts of files. */

interface Sets {
  tables: ReadonlyMap<string, Table>
  files: Map<string, string>
}

/** The model with the drafts; what is wrong in a fixture set does not keep it from being read. */
function opened(open: OpenProject, drafts: Files = {}): Sets {
  const files = new Map([...open.runtimes.files, ...Object.entries(drafts)])
  const { tables } = open.runtimes.parse(new Map([...files].filter(([path]) => !path.startsWith('fixtures/'))))
  return { tables, files }
}

const tableOf = ({ tables }: Sets, name: string): Table => tableNamed(tables, name)

const setOf = ({ tables, files }: Sets, set: string): FixtureTable[] => readFixtureRows(files, set, parentsFirst(tables.values()))

function told(sets: Sets, set: string): FixtureSet {
  const tables = setOf(sets, set)
  return { tables, faults: fixtureFaults(tables, sets.tables) }
}

/** The set with other rows of some tables. @throws HookError where a file of them cannot be read as rows: it would be lost */
function changed(
  sets: Sets,
  set: string,
  rows: ReadonlyMap<string, readonly FixtureRow[]>,
  notices: string[] = [],
): FixtureChange {
  const before = setOf(sets, set)
  const files: Files = {}
  for (const [name, all] of rows) {
    const known = before.find((each) => each.table === name)
    if (known?.unread) throw new HookError(known.unread as ErrorReport)
    const file = known?.file ?? `fixtures/${set}/${name}.csv`
    files[file] = fixtureText(file, tableOf(sets, name), all)
    sets.files.set(file, files[file])
  }
  return { ...told(sets, set), files, notices }
}

export const readFixtures = (open: OpenProject, set: string, drafts: Files | undefined): FixtureSet =>
  told(opened(open, drafts), set)

export function writeFixtures(
  open: OpenProject,
  set: string,
  table: string,
  rows: FixtureRow[],
  drafts: Files | undefined,
): FixtureChange {
  const sets = opened(open, drafts)
  tableOf(sets, table)
  return changed(sets, set, new Map([[table, rows]]))
}

/** Adds records of those that are tried on, with all that they link to. A record whose id the set has already stays as it is there. */
export function takeFixtures(
  open: OpenProject,
  set: string,
  records: { table: string; ids: number[] }[],
  drafts: Files | undefined,
): FixtureChange {
  const sets = opened(open, drafts)
  const project = { ...open.runtimes.saved.project, tables: sets.tables }
  const wanted = new Map<string, Set<number>>()
  for (const { table, ids } of records) wanted.set(tableOf(sets, table).name, new Set([...(wanted.get(table) ?? []), ...ids]))
  const linked = withLinked(project, open.records(project), wanted)
  const notices: string[] = []
  for (const [table, ids] of wanted) {
    const missing = [...ids].filter((id) => !linked.get(table)?.some((record) => record.id === id))
    if (missing.length > 0) notices.push(`${table} has no record ${missing.join(', ')}`)
  }
  const before = setOf(sets, set)
  const rows = new Map<string, readonly FixtureRow[]>()
  for (const [table, fresh] of linked) {
    const own = before.find((each) => each.table === table)?.rows ?? []
    const ids = new Set(own.map((row) => row['id']))
    const kept = fresh.filter(({ id }) => ids.has(id)).map(({ id }) => id)
    if (kept.length > 0) notices.push(`${table} ${kept.join(', ')}: the set has a record of that id, which stays as it is`)
    const added = fresh.filter(({ id }) => !ids.has(id))
    if (added.length > 0) rows.set(table, [...own, ...added])
  }
  return changed(sets, set, rows, notices)
}

/** Rows of a CSV file in place of a table's. @param file is named in errors */
export function readFixtureCsv(
  open: OpenProject,
  set: string,
  name: string,
  file: string,
  text: string,
  drafts: Files | undefined,
): FixtureChange {
  const sets = opened(open, drafts)
  return changed(sets, set, new Map([[name, importedRows(file, text, tableOf(sets, name))]]))
}

/** The rows of a table as CSV. */
export function fixtureCsv(open: OpenProject, set: string, name: string, drafts: Files | undefined): { text: string } {
  const sets = opened(open, drafts)
  const table = tableOf(sets, name)
  const rows = setOf(sets, set).find((each) => each.table === name)?.rows ?? []
  return { text: fixtureText(`${name}.csv`, table, rows) }
}

/** Adds rows that are made from the table's schema. */
export function makeFixtures(
  open: OpenProject,
  set: string,
  name: string,
  count: number,
  seed: number,
  drafts: Files | undefined,
): FixtureChange {
  const sets = opened(open, drafts)
  const table = tableOf(sets, name)
  const before = setOf(sets, set)
  const rowsOf = (of: string) => before.find((each) => each.table === of)?.rows ?? []
  const idsOf = (of: string) => rowsOf(of).flatMap((row, index) => (typeof row['id'] === 'number' ? [row['id']] : [index + 1]))
  const { rows, notices } = madeRows(table, count, seed, rowsOf(name), idsOf)
  return changed(sets, set, new Map([[name, [...rowsOf(name), ...rows]]]), notices)
}
