import type { RunEvent, RunLog } from '@patient-hook/contract'

/** The list of events of a recorded run, bounded: a loop of a million turns keeps its first ones, and counts and its last value. */

/** Events of one line in one part of a hook, for one row, that are kept. */
const KEPT_OF_LINE = 20
/** Events that a log keeps. */
const MOST_EVENTS = 20_000

type More = Extract<RunEvent, { kind: 'more' }>
type Repeated = Extract<RunEvent, { kind: 'line' | 'value' | 'turn' }>

export class Events {
  readonly #events: RunEvent[] = []
  #leftOut = 0
  /** Of the part and row at hand: how often each line's events came. */
  #counts = new Map<string, number>()
  #rests = new Map<string, More>()

  get log(): RunLog {
    return { events: this.#events, leftOut: this.#leftOut }
  }

  /** A part of a hook begins, or goes on with another row: lines are counted anew. */
  begin(event: Extract<RunEvent, { kind: 'part' | 'row' }>): void {
    this.#counts = new Map()
    this.#rests = new Map()
    this.#push(event)
  }

  add(event: Exclude<RunEvent, Repeated | { kind: 'part' | 'row' | 'more' }>): void {
    this.#push(event)
  }

  /** @param make called only for an event that is kept; `text` is the latest value */
  repeated(kind: Repeated['kind'], place: number, name: string, make: () => Repeated, text = ''): void {
    const key = `${kind} ${place} ${name}`
    const count = (this.#counts.get(key) ?? 0) + 1
    this.#counts.set(key, count)
    if (count <= KEPT_OF_LINE) return this.#push(make())
    const rest = this.#rests.get(key)
    if (rest) {
      rest.count++
      rest.text = text
      return
    }
    const { file, line } = make()
    const more: More = { kind: 'more', file, line, of: kind, name, count: 1, text }
    this.#rests.set(key, more)
    this.#push(more)
  }

  #push(event: RunEvent): void {
    if (this.#events.length < MOST_EVENTS) this.#events.push(event)
    else this.#leftOut++
  }
}
