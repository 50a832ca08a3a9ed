import type { BackfillWish } from '@patient-hook/contract'
import fc from 'fast-check'
import { expect, test, vi } from 'vitest'
import { beginBackfill, beginUndo, leftIn, readBackfill } from '../../src/backfill/backfill-store.js'
import { stepBackfill } from '../../src/backfill/step.js'
import type { Value } from '../../src/model/types.js'
import { integer, number, text, World, type Source } from '../world.js'
import { hook } from '../world.js'

/** What a backfill did is undone as a set where that can be done, else record by record: both must leave the same. */

const going = vi.hoisted(() => ({ singly: false, sets: 0 }))
vi.mock('../../src/save/save-as-set.js', async (original) => {
  const real = await original<typeof import('../../src/save/save-as-set.js')>()
  const saveAsSet: typeof real.saveAsSet = (...given) => {
    const outcome = going.singly ? null : real.saveAsSet(...given)
    if (outcome) going.sets++
    return outcome
  }
  return { ...real, saveAsSet }
})

const tables: Source['tables'] = {
  item: { fields: { code: { ...text, 'x-unique': true }, name: text, size: { ...integer, maximum: 50 }, mass: number } },
}
const hooks = {
  wide: hook(
    `{ table: 'item', moment: 'before-save', watch: ['name'], each(row) { row.now.mass = (row.now.mass ?? 0) + 0.1; if (row.now.size === 3) row.now.size = 4 } }`,
  ),
}
const item = fc.record({
  name: fc.constantFrom('a', 'b', null),
  size: fc.constantFrom(1, 2, 3, 60),
  mass: fc.constantFrom(null, 0.2, 1e21),
})
const what = fc.constantFrom<Partial<BackfillWish>>(
  { set: { name: 'new' } },
  { set: { name: 'b', mass: 7 } },
  { set: { size: 9 } },
  { number: { field: 'code', series: 'code' } },
  { hooks: ['wide'] },
)
/** Somebody changes a record between the backfill and the undo. */
const change = fc.record({
  id: fc.integer({ min: 1, max: 6 }),
  values: fc.constantFrom<Record<string, Value>>({ name: 'x' }, { mass: 1 }),
})

interface Case {
  items: Record<string, Value>[]
  chosen: Partial<BackfillWish>
  changes: { id: number; values: Record<string, Value> }[]
  rows: number
}

function run({ items, chosen, changes, rows }: Case, singly: boolean) {
  going.singly = singly
  const world = new World({ project: { sequences: { code: { prefix: 'C', digits: 1 } } }, tables, hooks })
  const { store, environment } = world
  world.load(
    'item',
    items.map((each, index) => ({ ...each, id: index + 1 })),
  )
  const wish: BackfillWish = { table: 'item', where: {}, order: [], withEffects: false, withMessages: false, ...chosen }
  const finish = (id: number) => {
    while (stepBackfill(store, () => environment, id, rows).backfill.state === 'running');
    return readBackfill(store, id)
  }
  const first = beginBackfill(store, environment.project.tables.get('item')!, wish, 'owner')
  finish(first)
  for (const { id, values } of changes)
    if (id <= items.length) world.run([{ table: 'item', values: { id, ...values } }], { user: 'bram', partial: true })
  const undo = beginUndo(store, readBackfill(store, first), 'owner')
  const { figures, state, failure } = finish(undo)
  return {
    figures,
    state,
    failure,
    left: leftIn(store, undo, 100),
    items: world.all('item'),
    history: world.all('ph_history').map(({ record, event, depth, cause, patch }) => [record, event, depth, cause, patch]),
    saves: store.objects('SELECT rows, user, job FROM ph_save'),
  }
}

test('taken back as a set or one at a time, the same is left', () => {
  const cases = fc.record({
    items: fc.array(item, { minLength: 1, maxLength: 6 }),
    chosen: what,
    changes: fc.array(change, { maxLength: 2 }),
    rows: fc.constantFrom(2, 10),
  })
  fc.assert(
    fc.property(cases, (each) => {
      expect(run(each, false)).toEqual(run(each, true))
    }),
    { numRuns: Number(process.env['UNDO_RUNS'] ?? 150) },
  )
  expect(going.sets).toBeGreaterThan(50)
})
