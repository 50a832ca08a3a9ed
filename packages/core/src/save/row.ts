import { entry, entryOfMany } from '../entry/entry.js'
import { callback, message, scalar } from '../entry/readers.js'
import { sealClassWith } from '../harden.js'
import { HookError } from '../errors.js'
import { gotOf } from '../model/values.js'
import type { RecordValues, Value, Values } from '../model/types.js'
import type { Setters, Shape } from '../store/shape.js'
import type { Origin } from './origin.js'
import type { EventName, Place } from './types.js'

/** A record on its way through one level of a save, and the view of it that hooks are given. */

export interface SaveRow {
  shape: Shape
  id: number
  event: EventName
  was: RecordValues | null
  now: RecordValues | null
  /**
   * `now` as it was when last looked at: with its id, or only the fields that hooks can write, where that is known (program.ts). Empty
   * on delete.
   */
  snapshot: Values
  by: Setters
  /** Fields that an effect asked for; null for a typed row. */
  asked: Readonly<Record<string, unknown>> | null
  /** The line that asked for the effect, or by field; only where code was probed. */
  askedAt: Place | Map<string, Place> | null
  copiedFrom: number | null
  /** 1-based row of the input; 0 for a ripple. */
  row: number
  origin: Origin
  /** An error applies to it: no further hook runs for it. */
  failed: boolean
  refused: boolean
  view: RowView | null
}

/** Of a row that no hook is compared with. */
export const NO_SNAPSHOT: Values = Object.freeze({})

/** Where a refusal goes; set by the station that runs hooks. */
export interface RefusalSink {
  refuse(row: SaveRow, field: string | null, message: string): void
}

/** A record as it was, and what is being done to it. */
export type Before = Pick<SaveRow, 'event' | 'was'>

export interface Change {
  field: string
  from: Value
  to: Value
}

export class RowView {
  readonly id: number
  readonly event: EventName
  readonly now: RecordValues | null
  readonly was: RecordValues | null
  readonly copiedFrom: number | null
  readonly #row: SaveRow
  readonly #sink: RefusalSink
  declare readonly changed: (...fields: string[]) => boolean
  declare readonly became: (predicate: (record: RecordValues) => unknown) => boolean
  declare readonly refuse: (field: string | null, message: string) => void

  /** @param before what the hook is to take for the record as it was; default: as it was */
  constructor(row: SaveRow, now: RecordValues | null, sink: RefusalSink, before: Before = row) {
    this.id = row.id
    this.event = before.event
    this.now = now
    this.was = before.was
    this.copiedFrom = row.copiedFrom
    this.#row = row
    this.#sink = sink
    Object.freeze(this)
  }

  get changes(): readonly Change[] {
    const found: Change[] = []
    for (const { name } of this.#row.shape.fields)
      if (differs(this.was, this.now, name))
        found.push({ field: name, from: this.was ? this.was[name]! : null, to: this.now ? this.now[name]! : null })
    return found
  }

  static {
    sealClassWith(RowView, {
      changed: entryOfMany('row.changed', scalar, function (this: RowView, fields) {
        const { shape } = this.#row
        if (fields.length === 0) return this.changes.length > 0
        for (const name of fields as string[]) {
          if (!shape.index.has(name)) throw shape.unknown(gotName(name))
          if (differs(this.was, this.now, name)) return true
        }
        return false
      }),
      became: entry('row.became', [callback], function (this: RowView, given) {
        if (typeof given !== 'function')
          throw new HookError('hook/bad-argument', { detail: `row.became takes a function, but got ${gotOf(given)}` })
        const predicate = given as (record: RecordValues) => unknown
        if (this.now === null || !predicate(this.now)) return false
        return this.was === null || !predicate(this.was)
      }),
      refuse: entry('row.refuse', [scalar, message], function (this: RowView, field, text) {
        this.#sink.refuse(this.#row, field as string | null, text)
      }),
    })
  }
}

const differs = (was: RecordValues | null, now: RecordValues | null, name: string) =>
  (was ? was[name]! : null) !== (now ? now[name]! : null)

/** A field's name as it was given; what came instead of one. */
const gotName = (name: unknown): string => (typeof name === 'string' ? name : gotOf(name))
