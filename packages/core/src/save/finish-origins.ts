import type { Field, RecordValues, Table, Values } from '../model/types.js'
import { own } from '../own.js'
import { readByIds } from '../store/records.js'
import { shapeOf } from '../store/shape.js'
import { union, type Origin } from './origin.js'
import type { SaveRow } from './row.js'
import type { Session } from './session.js'

/**
 * Which rows an effect of `finish` represents. `each` asks for one row; `finish` asks for the batch, so it is found out by
 * links: an effect on a record represents the rows that are that record, link or linked to it, are linked from it or link
 * to the same record as it does; failing that, for the rows that reach it upwards over up to three links. Where nothing
 * connects them, it represents all rows that the hook ran for.
 */

/** Links that are followed upwards from a row. */
const STEPS = 3

/** An effect whose record has to be read before it is known what it represents; filled in when `finish` has ended. */
interface Open {
  table: string
  id: number | null
  values: Values
  origin: { rows: readonly number[]; hooks: Origin['hooks'] }
}

const linksOf = (table: Table): readonly Field[] => table.fields.filter((field) => field.link)
const keyOf = (table: string, id: unknown): string => `${table} ${String(id)}`

export class FinishOrigins {
  readonly #all: Origin
  /** By record: the rows that are it or link to it. */
  readonly #of = new Map<string, Origin[]>()
  readonly #open: Open[] = []

  constructor(
    private readonly session: Session,
    rows: readonly SaveRow[],
    originOf: (row: SaveRow) => Origin,
  ) {
    const origins: Origin[] = []
    for (const row of rows) {
      const origin = originOf(row)
      const { table } = row.shape
      origins.push(origin)
      this.#note(keyOf(table.name, row.id), origin)
      for (const field of linksOf(table)) {
        const [was, now] = [row.was?.[field.name] ?? null, row.now?.[field.name] ?? null]
        if (now !== null) this.#note(keyOf(field.link!.table, now), origin)
        if (was !== null && was !== now) this.#note(keyOf(field.link!.table, was), origin)
      }
    }
    this.#all = union(origins)
  }

  /** The rows behind an effect on a record, or behind a new record of these values (id null). */
  of(table: string, id: number | null, values: Values): Origin {
    const direct = id === null ? this.#byLinks(table, values) : this.#of.get(keyOf(table, id))
    if (direct && direct.length > 0) return union(direct)
    const origin = { ...this.#all }
    this.#open.push({ table, id, values, origin })
    return origin
  }

  /** Reads what is needed to say what the rest represents. */
  close(): void {
    if (this.#open.length === 0) return
    const records = this.#records(this.#open.flatMap(({ table, id }) => (id === null ? [] : [[table, id] as const])))
    const contents = (effect: Open): Values =>
      effect.id === null ? effect.values : { ...records.get(keyOf(effect.table, effect.id)), ...effect.values }
    let left = this.#settle(this.#open, contents)
    let frontier = new Set(this.#of.keys())
    for (let step = 1; step < STEPS && left.length > 0 && frontier.size > 0; step++) {
      frontier = this.#climb(frontier)
      left = this.#settle(left, contents)
    }
  }

  /** @returns the effects of which nothing is known yet */
  #settle(effects: readonly Open[], contents: (effect: Open) => Values): Open[] {
    return effects.filter((effect) => {
      const direct = effect.id === null ? [] : (this.#of.get(keyOf(effect.table, effect.id)) ?? [])
      const known = direct.length > 0 ? direct : this.#byLinks(effect.table, contents(effect))
      if (known.length === 0) return true
      Object.assign(effect.origin, union(known))
      return false
    })
  }

  /** Goes one link up from these records. @returns the records that were reached for the first time */
  #climb(from: ReadonlySet<string>): Set<string> {
    const reached = new Map<string, Origin[]>()
    const keys = [...from].map((key) => key.split(' ') as [string, string])
    for (const [key, record] of this.#records(keys.map(([table, id]) => [table, Number(id)] as const)))
      for (const field of linksOf(this.session.project.tables.get(key.split(' ')[0]!)!)) {
        const value = record[field.name]
        if (value === null || value === undefined) continue
        const above = keyOf(field.link!.table, value)
        if (!this.#of.has(above)) reached.set(above, [...(reached.get(above) ?? []), ...this.#of.get(key)!])
      }
    for (const [key, origins] of reached) this.#of.set(key, origins)
    return new Set(reached.keys())
  }

  #byLinks(table: string, values: Values): Origin[] {
    return linksOf(this.session.project.tables.get(table)!).flatMap(
      (field) => this.#of.get(keyOf(field.link!.table, own(values, field.name)!)) ?? [],
    )
  }

  #records(keys: readonly (readonly [table: string, id: number])[]): Map<string, RecordValues> {
    const ids = new Map<string, number[]>()
    for (const [table, id] of keys) ids.set(table, [...(ids.get(table) ?? []), id])
    const records = new Map<string, RecordValues>()
    for (const [name, list] of ids)
      for (const [id, record] of readByIds(this.session.store, shapeOf(this.session.project.tables.get(name)!), list))
        records.set(keyOf(name, id), record)
    return records
  }

  #note(key: string, origin: Origin): void {
    const known = this.#of.get(key)
    if (known) known.push(origin)
    else this.#of.set(key, [origin])
  }
}
