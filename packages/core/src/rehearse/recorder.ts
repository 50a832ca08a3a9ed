import type { RunEvent, RunLog } from '@patient-hook/contract'
import type { Value, Values } from '../model/types.js'
import type { Probe } from '../sandbox/probe.js'
import { describeValue } from '../entry/describe.js'
import { nameOf, readPlace } from '../watch.js'
import type { Hook } from '../save/hook.js'
import type { SaveRow } from '../save/row.js'
import type { SaveRecorder } from '../save/save-recorder.js'
import type { Place } from '../save/types.js'
import { preview } from './preview.js'
import { Events } from './run-log.js'

type Part = Extract<RunEvent, { kind: 'part' }>['part']

/** JSON of a value that is kept beside its text, in characters. */
const LONGEST_JSON = 4000

/** Which rows are traced line by line; batches always are. */
export type Focus = (row: SaveRow) => boolean

/** The record with this id. */
export const onRecord =
  (table: string, id: number): Focus =>
  (row) =>
    row.id === id && row.shape.table.name === table

/**
 * Makes the events of a run, listening to probed code. Lines and values are reported about chosen rows only; which line set which
 * field is kept for every row.
 */
export class Recorder implements Probe, SaveRecorder {
  readonly #events = new Events(placeAt, (value) => this.#shown(value))
  /** By table and id, by field: the place that wrote it last, 0 where none did. */
  readonly #writes = new Map<string, Map<number, Record<string, number>>>()
  /** What is reported now: only selected rows. */
  #telling = false
  #place = 0
  #part: Part = 'each'
  #hook = ''
  #depth = 0
  #begun = false
  #row: SaveRow | null = null
  /** The row's values when last looked at; null where they cannot change. */
  #seen: Values | null = null
  #pass = 0

  /** @param withJson values are reported as JSON too, so they can be copied */
  constructor(
    private readonly focus: Focus,
    private readonly withJson = false,
  ) {}

  get log(): RunLog {
    return this.#events.log
  }

  begin(): void {
    this.#pass++
    this.leave()
  }

  /** A function is called alone. */
  enterCall(name: string): void {
    this.enter({ name }, 'call', 0)
  }

  enter(hook: Pick<Hook, 'name'>, part: Part, depth: number): void {
    this.leave()
    this.#hook = hook.name
    this.#part = part
    this.#depth = depth
    this.#place = 0
    this.#begun = false
    this.#telling = part === 'load' || part === 'finish' || part === 'call'
    if (this.#telling) this.#beginPart()
  }

  #beginPart(): void {
    this.#begun = true
    this.#events.begin({ kind: 'part', hook: this.#hook, part: this.#part, depth: this.#depth, pass: this.#pass })
  }

  row(row: SaveRow): void {
    this.#settle()
    this.#row = row
    this.#place = 0
    this.#seen = row.now && !Object.isFrozen(row.now) ? row.shape.plain(row.now) : null
    this.#telling = this.focus(row)
    if (!this.#telling) return
    if (!this.#begun) this.#beginPart()
    this.#events.begin({ kind: 'row', table: row.shape.table.name, id: row.id })
  }

  leave(): void {
    this.#settle()
    this.#row = null
    this.#telling = false
    this.#seen = null
  }

  /** Within one place no distinction is needed: a loop without an end turns there millions of times. */
  #move(place: number): void {
    if (place === this.#place) return
    this.#settle()
    this.#place = place
  }

  lineOf(row: SaveRow, field: string): Place | null {
    const place = this.#writes.get(row.shape.table.name)?.get(row.id)?.[field]
    return place ? placeAt(place) : null
  }

  here(): Place | null {
    return this.#place === 0 ? null : placeAt(this.#place)
  }

  at(place: number): void {
    this.#move(place)
    if (this.#telling) this.#events.line(place)
  }

  turn(place: number): void {
    this.#move(place)
    if (this.#telling) this.#events.turn(place)
  }

  value<T>(place: number, name: string, value: T): T {
    // What the expression called has had its own places; what is different now was done by this one.
    this.#place = place
    this.#settle()
    if (this.#telling) this.#events.value(place, name, value)
    return value
  }

  lookup(index: number): void {
    if (this.#telling) this.#events.add({ kind: 'lookup', ...this.#here(), index })
  }

  /** @param where the condition by which records are named, in place of an id */
  effect(call: 'update' | 'create' | 'remove' | 'send', to: string, id: number | null, values: unknown, where?: unknown): void {
    if (!this.#telling) return
    const which = where !== null && typeof where === 'object' ? { where: preview(where) } : {}
    this.#events.add({ kind: 'effect', ...this.#here(), call, to, id, ...which, ...this.#shown(values) })
  }

  refuse(field: string | null, message: string): void {
    if (this.#telling) this.#events.add({ kind: 'refuse', ...this.#here(), field, message })
  }

  logged(text: string): void {
    if (this.#telling) this.#events.add({ kind: 'log', ...this.#here(), text })
  }

  #here(): Place {
    return this.here() ?? { file: '', line: 0 }
  }

  #shown(value: unknown): { text: string; json?: unknown } {
    const text = preview(value)
    if (!this.withJson) return { text }
    const json = describeValue(value)
    return JSON.stringify(json).length <= LONGEST_JSON ? { text, json } : { text }
  }

  #writesTo({ shape, id }: SaveRow): Record<string, number> {
    const { name } = shape.table
    let rows = this.#writes.get(name)
    if (!rows) this.#writes.set(name, (rows = new Map<number, Record<string, number>>()))
    let places = rows.get(id)
    if (!places) rows.set(id, (places = shape.nobody()))
    return places
  }

  /** Whatever the row's values became since the last look was done by the line before. */
  #settle(): void {
    const row = this.#row
    const seen = this.#seen
    if (!row || !seen || this.#place === 0) return
    const { now, shape } = row
    if (shape.same(now!, seen)) return
    for (const { name } of shape.fields) {
      const value = now![name]!
      const before = seen[name]!
      if (value === before) continue
      seen[name] = value
      this.#writesTo(row)[name] = this.#place
      if (this.#telling)
        this.#events.add({ kind: 'set', ...placeAt(this.#place), field: name, from: before, to: describeValue(value) as Value })
    }
  }
}

function placeAt(place: number): Place {
  const { module, line } = readPlace(place)
  return { file: nameOf('module', module) ?? '', line }
}
