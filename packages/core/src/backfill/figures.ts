import type { BackfillFigures, BackfillSample } from '@patient-hook/contract'
import type { EffectSink } from '../save/effect-sink.js'
import type { Program } from '../save/program.js'
import type { SaveRow } from '../save/row.js'
import type { SaveOutcome } from '../save/save.js'
import type { Shape } from '../store/shape.js'
import type { Numbering } from './numbering.js'

/** What a backfill did, added up batch by batch. */

export const noFigures = (): BackfillFigures => ({
  changed: 0,
  created: 0,
  fields: {},
  left: 0,
  passed: 0,
  effects: {},
  heldEffects: {},
  messages: {},
  heldMessages: {},
  numbers: {},
})

const add = (counts: Record<string, number>, name: string, count: number): void => {
  counts[name] = (Object.hasOwn(counts, name) ? counts[name]! : 0) + count
}

/** What one batch did; only the last pass of a save counts, and only where it was kept. */
export class Tally {
  #changed = 0
  #created = 0
  readonly #fields: Record<number, number> = {}
  #shape: Shape | null = null
  readonly #effects: Record<string, number> = {}
  readonly #held: Record<string, number> = {}
  /** The first records that changed, by id. */
  readonly #rows: { shape: Shape; row: SaveRow; fields: readonly number[] }[] = []

  /** @param samples so many records are reported individually */
  constructor(
    private readonly samples: number,
    private readonly numbering: Numbering | null,
  ) {}

  get tellsOfEach(): boolean {
    return this.samples > 0
  }

  begin(): void {
    this.#changed = 0
    this.#created = 0
    this.#rows.length = 0
    for (const counts of [this.#fields, this.#effects, this.#held] as Record<string, number>[])
      for (const key of Object.keys(counts)) delete counts[key]
    this.numbering?.begin()
  }

  wrote(shape: Shape, row: SaveRow, fields: readonly number[], depth: number): void {
    if (depth > 0) return add(this.#effects, shape.table.name, 1)
    this.#shape = shape
    this.#changed++
    if (row.event === 'create') this.#created++
    for (const index of fields) this.#fields[index] = (this.#fields[index] ?? 0) + 1
    if (this.#rows.length < this.samples) this.#rows.push({ shape, row, fields })
  }

  wroteSet(shape: Shape, count: number, fields: ReadonlyMap<number, number>): void {
    this.#shape = shape
    this.#changed += count
    for (const [index, changed] of fields) this.#fields[index] = (this.#fields[index] ?? 0) + changed
  }

  held({ updates, creates, removes }: EffectSink): void {
    for (const each of [updates, removes]) for (const [table, records] of each) add(this.#held, table, records.size)
    for (const [table, list] of creates) add(this.#held, table, list.length)
  }

  /** Adds the batch to what was before. */
  addTo(figures: BackfillFigures, { sent }: SaveOutcome, holdMessages: boolean): void {
    figures.changed += this.#changed
    figures.created += this.#created
    for (const [index, count] of Object.entries(this.#fields))
      add(figures.fields, this.#shape!.fields[Number(index)]!.name, count)
    for (const [table, count] of Object.entries(this.#effects)) add(figures.effects, table, count)
    for (const [table, count] of Object.entries(this.#held)) add(figures.heldEffects, table, count)
    for (const { channel } of sent) add(holdMessages ? figures.heldMessages : figures.messages, channel, 1)
    for (const [sequence, { first, last, count }] of this.numbering?.given ?? []) {
      const before = Object.hasOwn(figures.numbers, sequence) ? figures.numbers[sequence] : undefined
      figures.numbers[sequence] = { first: before?.first ?? first, last, count: (before?.count ?? 0) + count }
    }
  }

  told(program: Program): BackfillSample[] {
    return this.#rows.map(({ shape, row: { id, was, now, by }, fields }) => ({
      id,
      was: was && shape.plain(was),
      now: now && shape.plain(now),
      changes: fields.map((index) => {
        const { name } = shape.fields[index]!
        return { field: name, from: was?.[name] ?? null, to: now?.[name] ?? null, by: program.hookName(by[name]!) }
      }),
    }))
  }
}
