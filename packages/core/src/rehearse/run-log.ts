import type { Place, RunEvent, RunLog } from '@patient-hook/contract'
import { preview } from './preview.js'

/** The list of events of a recorded run, bounded: a loop of a million turns keeps its first ones, and counts and its last value. */

/** Events of one line in one part of a hook, for one row, that are kept. */
const KEPT_OF_LINE = 20
/** Events that a log keeps. */
const MOST_EVENTS = 20_000

type More = Extract<RunEvent, { kind: 'more' }>
type Repeated = Extract<RunEvent, { kind: 'line' | 'value' | 'turn' }>
/** What a value is, in words and as JSON. */
type Shown = { text: string; json?: unknown }

/** How often something came at a line. */
interface Count {
  of: number
  /** Represents what came after the first ones. */
  more: More | null
}

export class Events {
  readonly #events: RunEvent[] = []
  #leftOut = 0
  /** Of the part and row at hand, by place. */
  #lines = new Map<number, Count>()
  #turns = new Map<number, Count>()
  #values = new Map<number, Map<string, Count>>()

  /**
   * @param placeAt file and line of a place
   * @param shown called for values that are kept, and for the last one of many
   */
  constructor(
    private readonly placeAt: (place: number) => Place,
    private readonly shown: (value: unknown) => Shown,
  ) {}

  get log(): RunLog {
    return { events: this.#events, leftOut: this.#leftOut }
  }

  /** A part of a hook begins, or continues with another row: lines are counted again. */
  begin(event: Extract<RunEvent, { kind: 'part' | 'row' }>): void {
    this.#lines = new Map()
    this.#turns = new Map()
    this.#values = new Map()
    this.#push(event)
  }

  add(event: Exclude<RunEvent, Repeated | { kind: 'part' | 'row' | 'more' }>): void {
    this.#push(event)
  }

  line(place: number): void {
    const count = countOf(this.#lines, place)
    if (++count.of <= KEPT_OF_LINE) this.#push({ kind: 'line', ...this.placeAt(place) })
    else this.#more(count, 'line', place, '')
  }

  turn(place: number): void {
    const count = countOf(this.#turns, place)
    if (++count.of <= KEPT_OF_LINE) this.#push({ kind: 'turn', ...this.placeAt(place) })
    else this.#more(count, 'turn', place, '')
  }

  value(place: number, name: string, value: unknown): void {
    let names = this.#values.get(place)
    if (!names) this.#values.set(place, (names = new Map()))
    const count = countOf(names, name)
    if (++count.of <= KEPT_OF_LINE) this.#push({ kind: 'value', ...this.placeAt(place), name, ...this.shown(value) })
    else this.#more(count, 'value', place, name).text = preview(value)
  }

  #more(count: Count, of: More['of'], place: number, name: string): More {
    const { more } = count
    if (more) {
      more.count++
      return more
    }
    const first: More = { kind: 'more', ...this.placeAt(place), of, name, count: 1, text: '' }
    count.more = first
    this.#push(first)
    return first
  }

  #push(event: RunEvent): void {
    if (this.#events.length < MOST_EVENTS) this.#events.push(event)
    else this.#leftOut++
  }
}

function countOf<K>(counts: Map<K, Count>, key: K): Count {
  let count = counts.get(key)
  if (!count) counts.set(key, (count = { of: 0, more: null }))
  return count
}
