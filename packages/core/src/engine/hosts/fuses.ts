import type { PausedHook } from '@patient-hook/contract'

/**
 * A hook that stops the live engine again and again is paused: saves that it would run for are refused at once, by name, and saves of other
 * tables are not held up. Now and then one save tries it again.
 */

/** So many stops within so many milliseconds pause a hook. */
const STOPS = 3
const WITHIN = 60_000
/** Milliseconds until a paused hook is tried again: twice as many after each try that failed. */
const FIRST_WAIT = 10_000
const LONGEST_WAIT = 600_000

interface Fuse {
  stops: number
  since: Date
  wait: number
  nextTry: number
}

export class Fuses {
  readonly #stops = new Map<string, number[]>()
  readonly #blown = new Map<string, Fuse>()

  /** @param now milliseconds since 1970 */
  constructor(private readonly now: () => number = Date.now) {}

  /** A save ended with its engine while the hook was at work. @returns whether the hook is paused by it */
  stopped(hook: string): boolean {
    const now = this.now()
    const fuse = this.#blown.get(hook)
    if (fuse) {
      fuse.stops++
      fuse.wait = Math.min(fuse.wait * 2, LONGEST_WAIT)
      fuse.nextTry = now + fuse.wait
      return false
    }
    const stops = [...(this.#stops.get(hook) ?? []).filter((at) => now - at < WITHIN), now]
    this.#stops.set(hook, stops)
    if (stops.length < STOPS) return false
    this.#stops.delete(hook)
    this.#blown.set(hook, { stops: stops.length, since: new Date(now), wait: FIRST_WAIT, nextTry: now + FIRST_WAIT })
    return true
  }

  /** A save came through in which these hooks ran. */
  ran(hooks: Iterable<string>): void {
    for (const hook of hooks) this.reset(hook)
  }

  /** Somebody switched the hook, rolled back or released. @param hook default: all */
  reset(hook?: string): void {
    if (hook === undefined) {
      this.#stops.clear()
      this.#blown.clear()
    } else {
      this.#stops.delete(hook)
      this.#blown.delete(hook)
    }
  }

  get isAnyBlown(): boolean {
    return this.#blown.size > 0
  }

  /** Hooks for which a save that begins now is refused. */
  refusing(): PausedHook[] {
    return this.list().filter(({ nextTry }) => Date.parse(nextTry) > this.now())
  }

  list(): PausedHook[] {
    return [...this.#blown].map(([hook, { stops, since, nextTry }]) => ({
      hook,
      stops,
      since: since.toISOString(),
      nextTry: new Date(nextTry).toISOString(),
    }))
  }
}
