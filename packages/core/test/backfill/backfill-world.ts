import type { BackfillInfo, BackfillWish } from '@patient-hook/contract'
import { beginBackfill, beginUndo, readBackfill } from '../../src/backfill/backfill-store.js'
import { stepBackfill } from '../../src/backfill/step.js'
import { checkWish } from '../../src/backfill/wish.js'
import { integer, link, text, World, type Source } from '../world.js'

/** Backfills of small worlds, batch by batch. */

export const wish = (part: Partial<BackfillWish>): BackfillWish => ({
  table: 'item',
  where: {},
  order: [],
  withEffects: false,
  withMessages: false,
  ...part,
})

/** Records that came before the hooks did. */
export function worldOf(source: Source, records: Record<string, Record<string, unknown>[]>): World {
  const world = new World(source)
  for (const [table, rows] of Object.entries(records)) world.load(table, rows)
  return world
}

export function run(world: World, what: BackfillWish | { undo: number }, rows = 3): BackfillInfo {
  const { store, environment } = world
  const id =
    'undo' in what
      ? beginUndo(store, readBackfill(store, what.undo), 'owner')
      : beginBackfill(store, checkWish(environment, what, 'owner'), what, 'owner')
  for (;;) {
    const { backfill } = stepBackfill(store, () => environment, id, rows)
    if (backfill.state !== 'running') return backfill
  }
}

export const items = (count: number, more: (id: number) => object = () => ({})) =>
  Array.from({ length: count }, (_, index) => ({ id: index + 1, name: `n${index + 1}`, ...more(index + 1) }))

export const tables = {
  item: {
    fields: { name: text, kind: text, label: text, number: { ...text, 'x-unique': true }, size: integer, box: link('box') },
  },
  box: { fields: { name: text, count: integer } },
}
