import { HookError } from '../errors.js'
import { hintFor } from '../model/names.js'
import type { Sequence } from '../model/types.js'
import type { Store } from './database.js'

/**
 * Number series. A save reads a series once, counts on in memory and writes it back in its own transaction, which holds
 * SQLite's write lock from its start: no number is given twice, and a rollback gives all of them back.
 */
/** Also of the ids of tables, under `#table`. */
export const KEEP_NEXT =
  'INSERT INTO ph_sequence (name, next) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET next = excluded.next'

export class Sequences {
  readonly #next = new Map<string, number>()

  constructor(
    private readonly store: Store,
    private readonly known: ReadonlyMap<string, Sequence>,
  ) {}

  /** The next number as text: prefix, then at least `digits` digits. @throws HookError hook/unknown-sequence */
  take(name: string): string {
    const sequence = this.#known(name)
    const number = this.#number(sequence, name)
    this.#next.set(name, number + 1)
    return textOf(sequence, number)
  }

  /** The texts of the next so many numbers, of which none is taken. @throws HookError hook/unknown-sequence */
  ahead(name: string, count: number): string[] {
    const sequence = this.#known(name)
    const first = this.#number(sequence, name)
    return Array.from({ length: count }, (_, index) => textOf(sequence, first + index))
  }

  /**
   * The first and the last of them, where the others lie between these as texts; null where they may not, since they differ in length.
   * @throws HookError hook/unknown-sequence
   */
  ends(name: string, count: number): [string, string] | null {
    const sequence = this.#known(name)
    const first = this.#number(sequence, name)
    const ends: [string, string] = [textOf(sequence, first), textOf(sequence, first + count - 1)]
    return ends[0].length === ends[1].length ? ends : null
  }

  #known(name: string): Sequence {
    const sequence = this.known.get(name)
    if (!sequence) throw new HookError('hook/unknown-sequence', { name, hint: hintFor(name, this.known.keys()) })
    return sequence
  }

  #number({ start }: Sequence, name: string): number {
    return (
      this.#next.get(name) ?? (this.store.one('SELECT next FROM ph_sequence WHERE name = ?', name) as number | undefined) ?? start
    )
  }

  /** Writes the series that were used. */
  flush(): void {
    for (const [name, next] of this.#next) this.store.run(KEEP_NEXT, name, next)
  }
}

const textOf = ({ prefix, digits }: Sequence, number: number): string => prefix + String(number).padStart(digits, '0')
