import { expect, test } from 'vitest'
import { HookError } from '../../src/errors.js'
import { LateMap } from '../../src/model/late-map.js'
import { parseProject } from '../../src/model/project.js'
import { filesOf, integer, text } from '../world.js'

/** Records that are read when they are asked for are those that are read at once; what is wrong with them is reported then. */

const source = {
  tables: { lot: { fields: { name: text, count: integer } }, tin: { fields: { name: text } } },
  fixtures: { base: { lot: [{ id: 1, name: 'a', count: 2 }], tin: [] }, other: { tin: [{ id: 4, name: 'x' }] } },
}
const files = filesOf(source)
const plain = (project: ReturnType<typeof parseProject>) =>
  [...project.fixtures].map(([set, tables]) => [set, [...tables].map(([table, records]) => [table, records])])

test('late or at once, they are the same', () => {
  const late = parseProject(files, undefined, true)
  expect([...late.fixtures.keys()]).toEqual(['base', 'other'])
  expect(late.fixtures.get('base')!.size).toBe(2)
  expect(plain(late)).toEqual(plain(parseProject(files)))
})

test('a set that is at fault is reported about when it is asked for, each time, and keeps no other from being read', () => {
  const broken = new Map(files).set('fixtures/base/lot.json', '[{ "id": 1, "count": "many" }]')
  expect(() => parseProject(broken)).toThrow(HookError)
  const late = parseProject(broken, undefined, true)
  expect(late.fixtures.get('other')!.get('tin')).toHaveLength(1)
  for (let time = 0; time < 2; time++) expect(() => late.fixtures.get('base')!.get('lot')).toThrow('count takes an integer')
})

test('a table that is not there, or that is in two files, is reported at once', () => {
  expect(() => parseProject(new Map(files).set('fixtures/base/lott.json', '[]'), undefined, true)).toThrow(
    'there is no table lott',
  )
  expect(() => parseProject(new Map(files).set('fixtures/base/lot.csv', 'id\n'), undefined, true)).toThrow('two files')
})

test('what was read of an earlier project is not read again, and nothing is read for it', () => {
  const first = parseProject(files, undefined, true)
  const read = first.fixtures.get('base')!.get('lot')
  const second = parseProject(new Map(files), first, true)
  expect(second.fixtures.get('base')!.get('lot')).toBe(read)
  expect((first.fixtures.get('other') as LateMap<string, unknown>).made('tin')).toBeUndefined()
})

test('what an earlier project has not read is read once for both, whichever is asked first', () => {
  const first = parseProject(files, undefined, true)
  const drafts = [1, 2, 3].map((count) => parseProject(new Map(files).set('notes.txt', String(count)), first, true))
  const read = drafts[0]!.fixtures.get('base')!.get('lot')
  for (const project of [...drafts, first]) expect(project.fixtures.get('base')!.get('lot')).toBe(read)
  const other = parseProject(new Map(files).set('fixtures/base/lot.json', '[{ "id": 1, "name": "b" }]'), first, true)
  expect(other.fixtures.get('base')!.get('lot')).not.toBe(read)
})

test('a map that makes its values is a map', () => {
  let made = 0
  const map = new LateMap<string, number>([
    ['a', () => ++made],
    ['b', () => ++made],
  ])
  expect([map.size, map.has('a'), map.has('c'), made]).toEqual([2, true, false, 0])
  expect([map.get('b'), map.get('b'), map.get('c')]).toEqual([1, 1, undefined])
  expect([...map]).toEqual([
    ['a', 2],
    ['b', 1],
  ])
  const told: unknown[] = []
  map.forEach((value, key) => told.push([key, value]))
  expect([told, [...map.values()], [...map.keys()]]).toEqual([[...map], [2, 1], ['a', 'b']])
})
