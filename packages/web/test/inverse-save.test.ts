import { expect, test } from 'vitest'
import { inverseOf } from '../src/lib/inverse-save'

/** The save that undoes another one. */

const record = (table: string, id: number, event: string, changes: Record<string, [from: unknown, to: unknown]>, depth = 0) =>
  ({
    table,
    id,
    event,
    depth,
    changes: Object.entries(changes).map(([field, [from, to]]) => ({ field, from, to, by: 'typed', kind: 'typed' })),
  }) as never

test('a change goes back to what was there, and expects what the save left', () => {
  expect(inverseOf([record('lot', 1, 'update', { mass: [1, 2], bay: ['A', 'B'] })]).rows).toEqual([
    { table: 'lot', id: 1, values: { mass: 1, bay: 'A' }, expect: { mass: 2, bay: 'B' } },
  ])
})
test('a record that rippled goes back to before the first change, expecting the last', () => {
  const rows = inverseOf([
    record('lot', 1, 'update', { mass: [1, 2] }),
    record('lot', 1, 'update', { mass: [2, 5], note: [null, 'x'] }, 1),
  ]).rows
  expect(rows).toEqual([{ table: 'lot', id: 1, values: { mass: 1, note: null }, expect: { mass: 5, note: 'x' } }])
})
test('a field that came back to its first value is left alone', () => {
  expect(inverseOf([record('lot', 1, 'update', { mass: [1, 2] }), record('lot', 1, 'update', { mass: [2, 1] }, 1)]).rows).toEqual(
    [],
  )
})
test('created records are removed, the last one first; removed ones are named', () => {
  const { rows, removed } = inverseOf([
    record('request', 4, 'create', { note: [null, 'a'] }),
    record('request_line', 9, 'create', { request: [null, 4] }),
    record('lot', 2, 'delete', { bay: ['A', null] }),
  ])
  expect(rows).toEqual([
    { table: 'request_line', id: 9, remove: true, expect: { request: 4 } },
    { table: 'request', id: 4, remove: true, expect: { note: 'a' } },
  ])
  expect(removed).toEqual([{ table: 'lot', id: 2 }])
})
test('what was created and removed in one save is nothing', () => {
  const { rows, removed } = inverseOf([record('lot', 3, 'create', { bay: [null, 'A'] }), record('lot', 3, 'delete', {}, 1)])
  expect([rows, removed]).toEqual([[], []])
})
