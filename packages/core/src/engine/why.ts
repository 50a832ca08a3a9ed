import type { HookInfo, Value, WhySource, WhyStep } from '@patient-hook/contract'
import type { Table } from '../model/types.js'
import { changesOf, type RawEntry } from '../save/history.js'
import { readByIds } from '../store/records.js'
import { shapeOf } from '../store/shape.js'
import type { Store } from '../store/database.js'

/**
 * Why a field holds what it holds: who set it last, what that hook looked at, and why that held what it held, back to what somebody
 * typed. Told from the history, and from which fields the hook's code reads; the value that was copied is known by being the same.
 */

/** Steps that are reported at most, and sources of one. */
const MOST_STEPS = 20
const MOST_SOURCES = 12

/** A hook as far as its code tells what it looks at. */
export type Looks = Pick<HookInfo, 'name' | 'plugin' | 'table' | 'watch' | 'reads' | 'uses'>

interface Readable {
  readonly store: Store
  /** @throws HookError project/unknown-table */
  table(name: string): Table
}

interface Entry extends RawEntry {
  id: number
  save: number
  depth: number
  at: string
  user: string
  job: number | null
}

const ENTRIES = `SELECT h.id, h.save, h.event, h.depth, h.cause, h.patch, s.at, s.user, s.job FROM ph_history h JOIN ph_save s ON s.id = h.save
  WHERE h.record = ? AND h.tbl = ? ORDER BY h.id`
const OF_SAVE = `SELECT h.id, h.record, h.save, h.event, h.depth, h.cause, h.patch FROM ph_history h
  WHERE h.save = ? AND h.tbl = ? AND h.depth < ? ORDER BY h.depth DESC, h.id LIMIT 2000`

interface Cell {
  table: string
  id: number
  field: string
}

export class Provenance {
  readonly #entries = new Map<string, Entry[]>()

  constructor(
    private readonly open: Readable,
    private readonly labelOf: (table: string, id: number) => string,
    private readonly hooks: readonly Looks[],
  ) {}

  /** @param until only what the saves up to this one did; null: the current state */
  steps(cell: Cell, until: number | null): WhyStep[] {
    const steps: WhyStep[] = []
    const seen = new Set<string>()
    let next: Cell | undefined = cell
    let before: number | null = until
    while (next && steps.length < MOST_STEPS) {
      const step = this.#step(next, before)
      const key = `${step.table} ${step.id} ${step.field} ${step.save}`
      if (seen.has(key)) break
      seen.add(key)
      steps.push(step)
      next = step.sources[0]
      before = step.save
    }
    return steps
  }

  #history(table: string, id: number): Entry[] {
    const key = `${table} ${id}`
    let entries = this.#entries.get(key)
    if (!entries) this.#entries.set(key, (entries = this.open.store.objects(ENTRIES, id, table) as unknown as Entry[]))
    return entries
  }

  #step(cell: Cell, until: number | null): WhyStep {
    const { table, id } = cell
    const set = this.#lastSet(cell, until)
    const label = this.labelOf(table, id)
    if (!set) {
      const value = this.#valueThen(cell, until)
      return { ...cell, label, value, save: null, at: null, user: null, depth: 0, from: null, by: null, job: null, sources: [] }
    }
    const { entry, change } = set
    const { save, at, user, depth, job } = entry
    const sources = this.#sources(cell, entry, change.by, change.to as Value)
    return {
      ...cell,
      label,
      value: change.to as Value,
      save,
      at,
      user,
      depth,
      from: change.from as Value,
      by: change.by,
      job,
      sources,
    }
  }

  /** The entry that set a field last, also under a name that it had before. */
  #lastSet({ table, id, field }: Cell, until: number | null) {
    let name = field
    for (const entry of this.#history(table, id).toReversed()) {
      // What is looked for by a name of now may have had another one then.
      if (until === null || entry.save <= until) {
        const change = changesOf(entry).find((each) => each.field === name)
        if (change) return { entry, change }
      }
      if (entry.event === 'model') name = namedBefore(entry, name)
    }
    return null
  }

  /** What a field held after a save. */
  #valueThen(cell: Cell, until: number | null): Value {
    const { table, id, field } = cell
    const set = this.#lastSet(cell, until)
    if (set) return set.change.to as Value
    if (until !== null)
      for (const entry of this.#history(table, id)) {
        const change = entry.save > until ? changesOf(entry).find((each) => each.field === field) : undefined
        if (change) return change.from as Value
      }
    const shape = shapeOf(this.open.table(table))
    const record = readByIds(this.open.store, shape, [id]).get(id)
    return (record && shape.plain(record)[field]) ?? null
  }

  #sources(cell: Cell, entry: Entry, by: string, value: Value): WhySource[] {
    const [, plugin, name] = /^([^/]+)\/(.+)@[^@]*$/.exec(by) ?? []
    const hook = this.hooks.find((each) => each.name === name && each.plugin === plugin)
    if (!hook) return []
    const rows = this.#rowsOf(hook, cell, entry)
    const sources = new Map<string, WhySource>()
    const add = (of: Cell) => {
      const key = `${of.table} ${of.id} ${of.field}`
      if (sources.has(key) || key === `${cell.table} ${cell.id} ${cell.field}`) return
      const held = this.#valueThen(of, entry.save)
      const changed = this.#history(of.table, of.id).some(
        (each) => each.save === entry.save && changesOf(each).some((change) => change.field === of.field),
      )
      sources.set(key, { ...of, value: held, same: held !== null && held === value, changed })
    }
    for (const id of rows) {
      for (const field of new Set([...hook.watch, ...hook.reads])) add({ table: hook.table, id, field })
      for (const link of this.#table(hook.table)?.fields.filter((field) => field.link) ?? []) {
        const other = this.#valueThen({ table: hook.table, id, field: link.name }, entry.save)
        if (typeof other !== 'number') continue
        for (const use of hook.uses)
          if (use.kind === 'read' && use.table === link.link!.table) add({ table: use.table, id: other, field: use.field })
      }
    }
    const weight = (each: WhySource) =>
      (each.same ? 4 : 0) + (each.changed ? 2 : 0) + (hook.watch.includes(each.field) && each.table === hook.table ? 1 : 0)
    return [...sources.values()]
      .filter((each) => weight(each) > 0 || each.value !== null)
      .sort((a, b) => weight(b) - weight(a))
      .slice(0, MOST_SOURCES)
  }

  /** The records that the hook ran for: its own, or those of a ripple's save that are linked with it. */
  #rowsOf(hook: Looks, { table, id }: Cell, { save, depth }: Entry): number[] {
    if (hook.table === table && depth === 0) return [id]
    const others = this.open.store.objects(OF_SAVE, save, hook.table, depth) as unknown as (RawEntry & { record: number })[]
    const ids = [...new Set(others.map(({ record }) => record))]
    const links = this.#table(table)?.fields.filter((field) => field.link?.table === hook.table) ?? []
    const up = links.map((link) => this.#valueThen({ table, id, field: link.name }, save))
    const parents = ids.filter((each) => up.includes(each))
    if (parents.length > 0) return parents
    const back = this.#table(hook.table)?.fields.filter((field) => field.link?.table === table) ?? []
    const children = ids.filter((each) =>
      back.some((link) => this.#valueThen({ table: hook.table, id: each, field: link.name }, save) === id),
    )
    if (children.length > 0) return children.slice(0, 5)
    if (hook.table === table && ids.length === 0) return [id]
    return ids.slice(0, 5)
  }

  #table(name: string): Table | null {
    try {
      return this.open.table(name)
    } catch {
      return null
    }
  }
}

/** The name that a field had before its table was changed. */
function namedBefore({ patch }: Entry, name: string): string {
  const steps = JSON.parse(patch) as { op: string; from?: string; path: string }[]
  return steps.find(({ op, path }) => op === 'move' && path === `/${name}`)?.from?.slice(1) ?? name
}
