import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { importedPaths } from '../../src/model/imports.js'
import type { RecordValues, Value } from '../../src/model/types.js'
import { makeReads, type Reads } from '../../src/store/reads.js'
import { readRows } from '../../src/store/read-rows.js'
import { loadRecords, readByIds } from '../../src/store/records.js'
import { shapeOf, shapeOfFields } from '../../src/store/shape.js'
import { flag, integer, link, number, text, World } from '../world.js'

/** Reads give the same values whether few columns are asked for or many: the two ways of reading are not to be reported apart. */

const world = () =>
  new World({
    tables: {
      shelf: { fields: { name: text } },
      // Names that SQLite's json_each has too: no column may be taken for another.
      box: { fields: { shelf: link('shelf'), value: text, key: number, open: flag, type: integer } },
    },
  })

const stored = fc.record({
  shelf: fc.option(fc.integer({ min: 1, max: 3 })),
  value: fc.option(fc.string({ unit: 'binary' })),
  key: fc.option(fc.double({ noNaN: true, noDefaultInfinity: true })),
  open: fc.option(fc.boolean()),
  type: fc.option(fc.maxSafeInteger()),
})
/** SQLite does not keep the sign of zero in every place, and JavaScript's === does not see it. */
const plain = (value: Value): Value => (Object.is(value, -0) ? 0 : value)

function filled(boxes: readonly Record<string, Value>[]) {
  const made = world()
  const { project } = made.environment
  loadRecords(
    made.store,
    project.tables.get('shelf')!,
    [1, 2, 3].map((id) => ({ id, name: `shelf ${id}` })),
  )
  const records = boxes.map((box, index) => ({ id: index + 1, ...box })) as RecordValues[]
  loadRecords(made.store, project.tables.get('box')!, records)
  const spent: [number, number] = [0, 0]
  const { store } = makeReads(made.store, project, {
    gone: () => undefined,
    query: () => {
      spent[0]++
      return 1_000_000
    },
    rows: (count) => void (spent[1] += count),
  })
  return { made, records, store, spent }
}
const FIELDS = ['shelf', 'value', 'key', 'open', 'type'] as const
const picked = (record: RecordValues | undefined, fields: readonly string[]) =>
  record && Object.fromEntries(['id', ...fields].map((field) => [field, plain(record[field]!)]))

describe('few columns and many', () => {
  test('give the values that were stored', () => {
    fc.assert(
      fc.property(fc.array(stored, { maxLength: 12 }), fc.subarray([...FIELDS]), (boxes, fields) => {
        const { made, records, store } = filled(boxes)
        const ids = records.map((each) => each.id)
        const wanted = records.map((each) => picked(each, fields))
        const found = store.byId('box', [...ids, 99, null], fields)
        expect(ids.map((id) => picked(found.get(id), fields))).toEqual(wanted)
        expect(found.size).toBe(ids.length)
        expect(store.find('box', {}, { fields }).map((each) => picked(each, fields))).toEqual(wanted)
        const table = made.environment.project.tables.get('box')!
        for (const shape of [shapeOf(table), shapeOfFields(table, new Set(fields))]) {
          const read = readByIds(made.store, shape, [99, ...ids])
          const known = shape.fields.map((field) => field.name)
          expect(ids.map((id) => picked(shape.plain(read.get(id)!), known))).toEqual(records.map((each) => picked(each, known)))
        }
        made.store.close()
      }),
      { numRuns: 60 },
    )
  })
  test('give children under each parent, by id', () => {
    fc.assert(
      fc.property(fc.array(stored, { maxLength: 20 }), fc.subarray([...FIELDS]), (boxes, fields) => {
        const { made, records, store, spent } = filled(boxes)
        const found = store.children('box', 'shelf', [3, 1, 77], fields)
        expect([...found.keys()].sort()).toEqual([1, 3, 77])
        for (const [id, list] of found)
          expect(list.map((each) => picked(each, fields))).toEqual(
            records.filter((each) => each['shelf'] === id).map((each) => picked(each, fields)),
          )
        expect(spent).toEqual([1, [...found.values()].flat().length])
        made.store.close()
      }),
      { numRuns: 60 },
    )
  })
  test.each([[['value']], [['value', 'key', 'open', 'type']]])(
    'keep the order and the limit that were asked for, with %j',
    (fields) => {
      const { store } = filled(['b', 'd', 'a', 'c'].map((value) => ({ shelf: null, value, key: null, open: null, type: null })))
      const values = (options: Parameters<Reads['find']>[2]) =>
        store.find('box', {}, { fields, ...options }).map((each) => each['value'])
      expect(values({ orderBy: 'value' })).toEqual(['a', 'b', 'c', 'd'])
      expect(values({ orderBy: '-value', limit: 2 })).toEqual(['d', 'c'])
      expect(values({})).toEqual(['b', 'd', 'a', 'c'])
      expect(values({ limit: 0 })).toEqual([])
    },
  )
  test('count the rows of a query as they were read', () => {
    const { made } = filled([1, 2, 3].map((type) => ({ shelf: 1, value: null, key: null, open: null, type })))
    for (const columns of [['id'], ['id', 'type', 'key', 'open', 'value']]) {
      const seen: unknown[] = []
      expect(readRows(made.store, columns, 'FROM box WHERE type > ?', [1], (raw) => seen.push(raw[0]))).toBe(2)
      expect(seen).toEqual([2, 3])
      expect(readRows(made.store, columns, 'FROM box WHERE type > ?', [9], () => seen.push('none'))).toBe(0)
      expect(seen).toHaveLength(2)
    }
  })
})

describe('the file that an import names', () => {
  test.each([
    ['plugins/p/hooks/a.ts', '../lib/b', ['plugins/p/lib/b.ts', 'plugins/p/lib/b/index.ts']],
    ['plugins/p/hooks/a.ts', '../lib/b.js', ['plugins/p/lib/b.ts', 'plugins/p/lib/b.js.ts', 'plugins/p/lib/b.js/index.ts']],
    [
      'plugins/p/lib/a.ts',
      './b.ts',
      ['plugins/p/lib/b.ts', 'plugins/p/lib/b.ts', 'plugins/p/lib/b.ts.ts', 'plugins/p/lib/b.ts/index.ts'],
    ],
    ['plugins/p/hooks/a.ts', '../../q/lib/b', null],
    ['plugins/p/hooks/a.ts', '../../../../etc/passwd', null],
  ])('from %s, %s', (from, name, paths) => {
    expect(importedPaths(from, name)).toEqual(paths)
  })
})
