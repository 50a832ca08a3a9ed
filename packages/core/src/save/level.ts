import { parentsFirst } from '../model/order.js'
import type { RecordValues } from '../model/types.js'
import { own } from '../own.js'
import { writeAskedSet } from './asked-sets.js'
import { checkRows, type Coming } from './checks.js'
import { EffectSink, originOf, type Asker } from './effect-sink.js'
import type { Hook } from './hook.js'
import type { LevelInput } from './level-input.js'
import { followDeletes } from './links.js'
import { BY_BACKFILL, BY_DEFAULT, BY_LINK, FIRST_HOOK, TYPED } from './program.js'
import type { SaveRow } from './row.js'
import { runHook } from './run-hooks.js'
import type { Session } from './session.js'
import { prepareRows } from './typed.js'
import type { ChangeOut, Place } from './types.js'
import { writeRows } from './write.js'

/**
 * One level of a save: typed rows at depth 0, a ripple at each depth below. Table by table, parents first, so that the
 * hooks of lines read their header as it was just written; then after-save for all, then the ripple it asked for.
 * @param asked how many of the levels above were asked for by hooks: what follows from removed records alone always ends
 */
export function saveLevel(session: Session, inputs: readonly LevelInput[], depth: number, asked = depth): void {
  session.stage.depth = depth
  session.spending.depth(asked)
  const prepared = prepareRows(session, inputs, new Map())
  const coming = comingIn(prepared)
  const sink = new EffectSink(session)
  /** By table: the rows that were written, and all that are fit, which a backfill may wake hooks for. */
  const saved: { written: readonly SaveRow[]; fit: readonly SaveRow[] }[] = []
  for (const table of parentsFirst([...prepared.keys()].map((name) => session.project.tables.get(name)!))) {
    session.stage.atTable(table.name)
    saved.push(...saveTable(session, table.name, prepared.get(table.name)!, coming))
  }
  for (const { written, fit } of saved) {
    for (const hook of session.program.at(fit[0]!.shape.table.name, 'after-save')) {
      const rows = session.wakes(hook) ? fit : written
      if (rows.length > 0) runHook(session, hook, rows, { effects: sink })
    }
    if (written.length > 0) followDeletes(session, written, sink)
  }
  if (sink.isEmpty) return
  const { backfill } = session.options
  if (backfill?.holdEffects) return backfill.held(sink)
  session.stage.chain.push({
    by: [...sink.hooks].join(' + ') || 'a deleted record’s links',
    written: saved.map(({ written }) => written),
  })
  const next = sink.hooks.size > 0 ? asked + 1 : asked
  if (sink.sets.size > 0) rippleSets(session, sink, depth + 1, next)
  const { batchSize } = session.project
  for (const asked of [sink.removes, sink.updates])
    for (const [table, ids] of asked) session.trades.expect(session.project.tables.get(table)!, ids.keys(), ids.size > batchSize)
  let batch: LevelInput[] = []
  for (const input of rippleInputs(sink)) {
    batch.push(input)
    if (batch.length < batchSize) continue
    saveLevel(session, batch, depth + 1, next)
    batch = []
  }
  if (batch.length > 0) saveLevel(session, batch, depth + 1, next)
  session.stage.chain.pop()
  session.stage.depth = depth
}

/** @returns the rows that were written, and all that are fit; none where after-save has no work */
function saveTable(
  session: Session,
  table: string,
  all: readonly SaveRow[],
  coming: Coming,
): { written: readonly SaveRow[]; fit: readonly SaveRow[] }[] {
  const allWritten: SaveRow[] = []
  const allFit: SaveRow[] = []
  const known = new Map<number, RecordValues>()
  const parts = generations(all, table)
  for (const [generation, rows] of parts.entries()) {
    session.stage.generation = generation
    session.trades.arrived(table, rows)
    for (const hook of session.program.at(table, 'before-save')) runHook(session, hook, rows)
    checkRows(session, rows, coming, parts.length > 1 ? all : rows)
    const fit = session.refusals.none ? rows : rows.filter((row) => !session.refusals.concern(row))
    const written = writeRows(session, fit)
    if (session.options.record) for (const row of rows) noteRow(session, row)
    if (parts.length > 1) {
      for (const { id, now } of fit) if (now) known.set(id, now)
      session.reads.remember(table, known)
    }
    for (const row of written) allWritten.push(row)
    for (const row of fit) allFit.push(row)
  }
  session.stage.generation = 0
  return allWritten.length > 0 || (session.options.backfill && allFit.length > 0) ? [{ written: allWritten, fit: allFit }] : []
}

/** Writes what was asked for as sets where that is all there is; beside other effects records are taken one at a time, in their order. */
function rippleSets(session: Session, sink: EffectSink, depth: number, asked: number): void {
  const sets = [...sink.sets.values()]
  const { spent, limits } = session.spending
  const count = sets.reduce((sum, each) => sum + each.set.count, 0)
  if (!sink.hasOnlySets || spent.rowsWritten + count > limits.rowsWritten) {
    for (const { set } of sets) sink.takeApart(set.table.name)
    return
  }
  if (count === 0) return
  session.stage.depth = depth
  session.spending.depth(asked)
  for (const { name } of parentsFirst(sets.map(({ set }) => set.table))) {
    session.spending.time()
    session.stage.atTable(name)
    writeAskedSet(session, sink.sets.get(name)!)
  }
}

/** Links to what this level creates are good; gathered where somebody asks. */
function comingIn(prepared: ReadonlyMap<string, readonly SaveRow[]>): Coming {
  const known = new Map<string, Set<number>>()
  return (table) => {
    let ids = known.get(table)
    if (!ids) {
      const created = (prepared.get(table) ?? []).filter((row) => row.event === 'create')
      known.set(table, (ids = new Set(created.map((row) => row.id))))
    }
    return ids
  }
}

/** Rows of a table that links to itself: those that others of the batch link to come first. What is removed comes last. */
function generations(rows: readonly SaveRow[], table: string): (readonly SaveRow[])[] {
  const [first] = rows
  const links = first?.shape.fields.filter((field) => field.link?.table === table) ?? []
  if (links.length === 0 || rows.length < 2) return [rows]
  const left = new Map(rows.filter((row) => row.now !== null).map((row) => [row.id, row]))
  const below = new Map<SaveRow, SaveRow[]>()
  const waitsFor = new Map<SaveRow, number>()
  for (const row of left.values())
    for (const { name } of links) {
      const parent = left.get(row.now![name] as number)
      if (!parent || parent === row) continue
      const list = below.get(parent)
      if (list) list.push(row)
      else below.set(parent, [row])
      waitsFor.set(row, (waitsFor.get(row) ?? 0) + 1)
    }
  if (waitsFor.size === 0) return [rows]
  const parts: SaveRow[][] = []
  let ready = [...left.values()].filter((row) => !waitsFor.has(row))
  while (ready.length > 0) {
    parts.push(ready)
    const next: SaveRow[] = []
    for (const row of ready) {
      left.delete(row.id)
      for (const child of below.get(row) ?? []) {
        const waits = waitsFor.get(child)! - 1
        waitsFor.set(child, waits)
        if (waits === 0) next.push(child)
      }
    }
    ready = next
  }
  // Rows that link to each other in a circle, and what hangs on them, have no order.
  const rest = [...left.values(), ...rows.filter((row) => row.now === null)]
  if (left.size > 0) parts.push(rest)
  else parts.at(-1)!.push(...rest)
  return parts
}

/** Made as they are taken, so a wide ripple is not in memory twice. */
function* rippleInputs(sink: EffectSink): Generator<LevelInput> {
  for (const [table, removes] of sink.removes)
    for (const [id, remove] of removes)
      yield { table, values: { id }, remove: true, row: 0, origin: originOf(remove), askedBy: remove.by }
  for (const [table, updates] of sink.updates)
    for (const [id, update] of updates) {
      if (sink.removes.get(table)?.has(id)) continue
      const { values, asker, others } = update
      const origin = originOf(update)
      const setBy = others ? Object.fromEntries([...others].map(([field, each]) => [field, whoIs(each.hook)])) : whoIs(asker.hook)
      yield { table, values, id, row: 0, origin, setBy, askedBy: asker.hook, askedAt: placesOf(asker, others) }
    }
  for (const [table, creates] of sink.creates)
    for (const { values, by, origin, at } of creates)
      yield { table, values, row: 0, origin, setBy: whoIs(by), askedBy: by, askedAt: at }
}

function placesOf(asker: Asker, others: ReadonlyMap<string, Asker> | null): LevelInput['askedAt'] {
  if (!others) return asker.at
  return new Map([...others].flatMap(([field, { at }]) => (at ? [[field, at] as const] : [])))
}

const whoIs = (hook: Hook | null): number => (hook ? hook.index + FIRST_HOOK : BY_LINK)

function placeOf(session: Session, row: SaveRow, field: string): Place | null {
  const { askedAt } = row
  const asked = askedAt instanceof Map ? (askedAt.get(field) ?? null) : askedAt
  return session.options.recorder?.lineOf(row, field) ?? asked
}

function noteRow(session: Session, row: SaveRow): void {
  const { shape, was, now } = row
  const changes: ChangeOut[] = []
  const typedValues = session.notes.typedOf(shape.table.name, row.id)
  shape.fields.forEach(({ name }) => {
    const from = was ? was[name]! : null
    const to = now ? now[name]! : null
    const typed = own(typedValues, name)
    if (from === to && (typed === undefined || typed === to)) return
    const who = row.by[name]!
    const kind =
      typeof to === 'string' && session.notes.numbers.has(to)
        ? 'sequence'
        : who === TYPED || who === BY_DEFAULT || who === BY_BACKFILL
          ? 'typed'
          : row.asked && Object.hasOwn(row.asked, name) && session.program.hooks[who - FIRST_HOOK]?.moment !== 'before-save'
            ? 'ripple'
            : 'hook'
    const change: ChangeOut = { field: name, from, to, by: session.program.hookName(who), kind }
    changes.push(change)
    if (kind === 'typed') return
    if (typed !== undefined && typed !== to) change.overwrites = typed
    const at = placeOf(session, row, name)
    if (at) change.at = at
  })
  session.notes.rows.push({
    table: shape.table.name,
    id: row.id,
    event: row.event,
    depth: session.stage.depth,
    row: row.row,
    // Each change says it, too.
    was: was && !(now && session.options.record === 'briefly') ? shape.plain(was) : null,
    now: now && shape.plain(now),
    changes,
  })
}
