import type { BackfillWish } from '@patient-hook/contract'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { beginBackfill } from '../../src/backfill/backfill-store.js'
import { stepBackfill } from '../../src/backfill/step.js'
import { isUntouched, noteUntouched } from '../../src/backfill/untouched.js'
import { integer, text, World } from '../world.js'

/** As long as nobody writes, a backfill does not look whether its records still fit; anyone who writes meanwhile is not overlooked. */

type Act = { step: number } | { change: number; size: number }
const act: fc.Arbitrary<Act> = fc.oneof(
  fc.record({ step: fc.integer({ min: 1, max: 4 }) }),
  fc.record({ change: fc.integer({ min: 1, max: 9 }), size: fc.constantFrom(0, 1, 5) }),
)
const wish: BackfillWish = {
  table: 'item',
  where: { size: { gte: 1 } },
  order: [],
  set: { name: 'done' },
  withEffects: false,
  withMessages: false,
}

function run(acts: readonly Act[], notes: boolean) {
  const world = new World({ tables: { item: { fields: { name: text, size: integer } } } })
  const { store, environment } = world
  world.load(
    'item',
    Array.from({ length: 9 }, (_, index) => ({ id: index + 1, size: 1 })),
  )
  const id = beginBackfill(store, environment.project.tables.get('item')!, wish, 'owner')
  if (notes) noteUntouched(store, id)
  let skipped = 0
  const step = (rows: number) => {
    if (isUntouched(store, id)) skipped++
    const { backfill, untouched } = stepBackfill(store, () => environment, id, rows)
    if (notes && untouched) noteUntouched(store, id)
    return backfill
  }
  for (const each of acts)
    if ('step' in each) step(each.step)
    else world.run([{ table: 'item', values: { id: each.change, size: each.size } }])
  let last = step(2)
  while (last.state === 'running') last = step(2)
  return { skipped, left: { figures: last.figures, items: world.all('item') } }
}

test('the same is done to the same records, whatever is changed in between', () => {
  let skipped = 0
  fc.assert(
    fc.property(fc.array(act, { maxLength: 8 }), (acts) => {
      const noted = run(acts, true)
      skipped += noted.skipped
      expect(noted.left).toEqual(run(acts, false).left)
    }),
    { numRuns: 150 },
  )
  expect(skipped).toBeGreaterThan(50)
})

test('what hooks of a batch may have changed is looked at again', () => {
  const world = new World({
    tables: { item: { fields: { name: text, size: integer } } },
    hooks: {
      next: `import { defineHook } from 'patient-hook'
export default defineHook({ table: 'item', moment: 'after-save', watch: ['name'], ripples: 'none',
  each(row, _, { update }) { if (row.id < 4) update('item', row.id + 1, { size: 0 }) } })`,
    },
  })
  const { store, environment } = world
  world.load(
    'item',
    [1, 2, 3, 4].map((id) => ({ id, size: 1 })),
  )
  const what = { ...wish, withEffects: true }
  const id = beginBackfill(store, environment.project.tables.get('item')!, what, 'owner')
  noteUntouched(store, id)
  for (;;) {
    const { backfill, untouched } = stepBackfill(store, () => environment, id, 1)
    if (untouched) noteUntouched(store, id)
    if (backfill.state !== 'running') break
  }
  expect(world.all('item').map(({ name, size }) => [name, size])).toEqual([
    ['done', 1],
    [null, 0],
    ['done', 1],
    [null, 0],
  ])
})
