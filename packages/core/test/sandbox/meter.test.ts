import { expect, test } from 'vitest'
import { hook, integer, World } from '../world.js'

/** What counts the steps of hook code lives as long as the code does: it must hold nothing of a save that has ended. */

const tables = { item: { fields: { size: integer } } }
const code = hook(
  `{ table: 'item', moment: 'before-save', each(row) { if (row.now.size === 1) row.refuse('size', 'no'); if (row.now.size === 2) throw new Error('none'); if (row.now.size === 3) for (;;); } }`,
)

test.each([
  ['kept', 0, undefined],
  ['refused', 1, 'hook/refused'],
  ['thrown in', 2, 'hook/threw'],
  ['stopped in a loop', 3, 'budget/spent'],
])('a save that is %s leaves no limit behind, and its steps are counted', (_, size, expected) => {
  const world = new World({ project: { budgets: { steps: 10_000 } }, tables, hooks: { code } })
  const { meter } = world.environment.program.sandbox
  const { limit, n } = meter
  expect(world.try([{ table: 'item', values: { size } }]).error?.code).toBe(expected)
  expect(meter.limit).toBe(limit)
  expect(meter.limit).toBeNull()
  expect(meter.n).toBeGreaterThan(n)
})
