import fc from 'fast-check'
import { beforeEach, describe, expect, test } from 'vitest'
import type { ModelEdit } from '../../src/engine/model-change.js'
import { HookError } from '../../src/errors.js'
import { editOf, newField, type FieldEdit, type TableEdit } from '../../src/model/table-edit.js'
import { fitsType } from '../../src/model/values.js'
import { errorOf } from '../error-of.js'
import { TestEngine } from '../test-engine.js'
import { hook } from '../world.js'
import { files } from './model-files.js'

/** Changes of the model with records, fixtures and code in place. */

let engine: TestEngine
beforeEach(() => {
  engine = new TestEngine()
  engine.open(files)
})
const edited = (table: string, change: (edit: TableEdit) => void): TableEdit => {
  const edit = editOf(engine.info().tables.find((each) => each.name === table)!)
  change(edit)
  return edit
}
const field = (edit: TableEdit, name: string): FieldEdit => edit.fields.find((each) => each.name === name)!
const lot = (change: (edit: TableEdit) => void, more: Partial<ModelEdit> = {}): ModelEdit => ({
  table: 'lot',
  edit: edited('lot', change),
  ...more,
})
const plan = (edit: ModelEdit) =>
  engine.planModel(edit).steps.map(({ effect, text, records, examples }) => ({ effect, text, records, examples }))
const column = (name: string) => engine.list('lot', {}).records.map((each) => each[name])
const snapshot = () => JSON.stringify([engine.files(), engine.list('lot', {}), engine.list('site', {})])

describe('a change is planned with what it does to which records', () => {
  test('text to number: what cannot be converted goes, when it is accepted', () => {
    const change = lot((edit) => Object.assign(field(edit, 'bay'), { type: 'integer' }))
    expect(plan(change)).toEqual(
      expect.arrayContaining([
        { effect: 'safe', text: 'bay: text becomes integer.', records: 0, examples: [] },
        { effect: 'loses', text: 'bay: 2 records hold a value that cannot be integer; it goes.', records: 2, examples: [2, 4] },
        expect.objectContaining({ effect: 'breaks', text: expect.stringContaining('caps.ts') as unknown }),
      ]),
    )
    const before = snapshot()
    expect(errorOf(() => engine.changeModel(change, false))).toMatchObject({ code: 'model/not-accepted' })
    expect(snapshot()).toBe(before)
    engine.changeModel(change, true)
    expect(column('bay')).toEqual([12, null, null, null, 7])
    expect(engine.files()['data/lot.csv']).toBe(
      'id,bay,status,mass,site,count\n1,12,drying,1.5,1,1\n2,,stored,2,2,2\n3,,gone,,1,2\n4,,gone,99.25,,\n5,7,drying,3,2,5\n',
    )
  })

  test('a choice that goes, with a value for those that held it', () => {
    const change = lot((edit) => (field(edit, 'status').enum = ['drying', 'stored']))
    expect(plan(change)).toEqual([
      {
        effect: 'loses',
        text: 'status: 2 records hold a value that is no choice any more; it goes.',
        records: 2,
        examples: [3, 4],
      },
    ])
    engine.changeModel({ ...change, fills: { status: 'stored' } }, true)
    expect(column('status')).toEqual(['drying', 'stored', 'stored', 'stored', 'drying'])
    expect(JSON.parse(engine.files()['fixtures/base/lot.json']!)).toEqual([{ id: 1, bay: 'a', status: 'stored', count: 3 }])
  })

  test('required: blocked as long as records have no value, unless one is given', () => {
    const change = lot((edit) => (field(edit, 'mass').required = true))
    expect(plan(change)).toMatchObject([{ effect: 'blocked', records: 1, examples: [3] }])
    expect(errorOf(() => engine.changeModel(change, true))).toMatchObject({
      code: 'model/blocked',
      message: expect.stringContaining('1 record has no value') as unknown,
    })
    engine.changeModel({ ...change, fills: { mass: 0 } }, true)
    expect(column('mass')).toEqual([1.5, 2, 0, 99.25, 3])
    expect(engine.save([{ table: 'lot', values: { bay: 'x' } }], {}).error).toMatchObject({ code: 'check/required' })
  })

  test('unique: blocked as long as records share a value', () => {
    const change = lot((edit) => (field(edit, 'count').unique = true))
    expect(plan(change)).toMatchObject([{ effect: 'blocked', records: 2, examples: [2, 3] }])
    engine.save([{ table: 'lot', values: { id: 3, count: 9 } }], {})
    engine.changeModel(change, false)
    expect(engine.save([{ table: 'lot', values: { count: 9 } }], {}).error).toMatchObject({ code: 'check/unique' })
  })

  test('bounds: records stay, and are refused when they are saved next', () => {
    const change = lot((edit) => (field(edit, 'mass').maximum = 50))
    expect(plan(change)).toMatchObject([{ effect: 'breaks', records: 1, examples: [4] }])
    engine.changeModel(change, true)
    expect(column('mass')).toEqual([1.5, 2, null, 99.25, 3])
    expect(engine.save([{ table: 'lot', values: { id: 4, count: 1 } }], {}).error).toMatchObject({ code: 'check/bounds' })
  })

  test('a number that becomes a link: blocked where there is no record to link to', () => {
    const change = lot((edit) => (field(edit, 'count').link = { table: 'site', onDelete: 'clear' }))
    expect(plan(change)).toEqual(
      expect.arrayContaining([expect.objectContaining({ effect: 'blocked', records: 1, examples: [5] }) as unknown]),
    )
    engine.save([{ table: 'lot', values: { id: 5, count: 1 } }], {})
    engine.changeModel(change, false)
    expect(engine.save([{ table: 'site', values: { id: 1 }, remove: true }], {}).error).toMatchObject({ code: 'check/linked' })
    engine.save(
      [
        { table: 'lot', values: { id: 1, site: 2 } },
        { table: 'lot', values: { id: 3, site: 2 } },
      ],
      {},
    )
    expect(engine.save([{ table: 'site', values: { id: 1 }, remove: true }], {}).error).toBeNull()
    expect(column('count')).toEqual([null, 2, 2, null, null])
  })

  test('a field goes: its values, and the hooks that use it, are shown first', () => {
    expect(plan(lot((edit) => (edit.fields = edit.fields.filter((each) => each.name !== 'mass'))))).toEqual([
      { effect: 'loses', text: 'mass goes, with the values of 4 records.', records: 4, examples: [1, 2, 4, 5] },
    ])
    const watched = plan(lot((edit) => (edit.fields = edit.fields.filter((each) => each.name !== 'bay'))))
    expect(watched).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ effect: 'blocked', text: expect.stringContaining('hook caps') as unknown }) as unknown,
      ]),
    )
  })

  test('a table goes, but not while another links to it', () => {
    expect(plan({ table: 'site', edit: null })).toMatchObject([
      { effect: 'blocked', text: expect.stringContaining('tables/lot.json') as unknown },
    ])
    engine.putFiles({ 'plugins/p/hooks/caps.ts': hook(`{ table: 'site', moment: 'before-save', each() {} }`) })
    expect(plan({ table: 'lot', edit: null })).toMatchObject([
      { effect: 'loses', records: 5 },
      { effect: 'blocked', text: expect.stringMatching(/^Release p 1\.2\.3 \(live\) could not run any more/) as unknown },
    ])
    engine.release({ plugins: ['p'], reason: 'the table goes' })
    expect(plan({ table: 'lot', edit: null })).toMatchObject([{ effect: 'loses', records: 5 }])
    engine.changeModel({ table: 'lot', edit: null }, true)
    expect(engine.info().tables.map((each) => each.name)).toEqual(['site'])
    expect(Object.keys(engine.files()).filter((path) => path.includes('lot'))).toEqual([])
  })
})

test('a field is renamed in records, fixtures, hooks and watch lists', () => {
  const change = lot((edit) => Object.assign(field(edit, 'bay'), { name: 'shelf', label: 'Shelf' }))
  expect(plan(change)).toEqual([
    { effect: 'safe', text: 'bay is named shelf from now on, in the hooks and fixtures too.', records: 0, examples: [] },
    {
      effect: 'safe',
      text: 'Release p 1.2.3 (live) is released again with it, with the new names in its code.',
      records: 0,
      examples: [],
    },
  ])
  engine.changeModel(change, false)
  expect(column('shelf')).toEqual(['12', 'B7', null, '', '7'])
  expect(engine.files()['plugins/p/hooks/caps.ts']).toContain(
    `watch: ['shelf'], each(row) { const { shelf: bay } = row.now; row.now.shelf = bay?.toUpperCase() ?? null }`,
  )
  expect(engine.files()['data/lot.csv']).toContain('id,shelf,status')
  expect(JSON.parse(engine.files()['fixtures/base/lot.json']!)).toEqual([{ id: 1, shelf: 'a', status: 'gone', count: 3 }])
  expect(engine.save([{ table: 'lot', values: { shelf: 'q1' } }], {}).records[0]).toMatchObject({ shelf: 'Q1' })
})

test('new fields, in a new order, keep every record', () => {
  const before = engine.list('lot', {}).records
  engine.changeModel(
    lot((edit) => {
      edit.fields.reverse()
      edit.fields.unshift({ ...newField('next_check', 'Next check'), format: 'date' })
    }),
    false,
  )
  expect(engine.list('lot', {}).records).toEqual(before.map((record) => ({ ...record, next_check: null })))
  // The records' history says so, and nothing else of it.
  const patch = [{ op: 'add', path: '/next_check', value: null }]
  expect(engine.record('lot', 1).history).toMatchObject([{ event: 'model', patch, changes: [] }])
})

test('whatever the change, what is kept afterwards fits the table, and a refused change leaves everything as it was', () => {
  const edits = fc.array(
    fc.oneof(
      fc.record({
        name: fc.constantFrom('bay', 'status', 'mass', 'count'),
        type: fc.constantFrom('string', 'integer', 'number', 'boolean'),
      }),
      fc.record({ name: fc.constantFrom('bay', 'status', 'mass', 'count'), required: fc.boolean(), unique: fc.boolean() }),
      fc.record({ name: fc.constant('status'), enum: fc.subarray(['drying', 'stored', 'gone', 'new'], { minLength: 1 }) }),
    ),
    { minLength: 1, maxLength: 4 },
  )
  const fills = fc.record({ mass: fc.constantFrom(0, 1), bay: fc.constantFrom('z', 'y') }, { requiredKeys: [] })
  fc.assert(
    fc.property(edits, fills, (list, given) => {
      engine = new TestEngine()
      engine.open({ ...files, 'plugins/p/hooks/caps.ts': hook(`{ table: 'site', moment: 'before-save', each() {} }`) })
      const before = snapshot()
      const change = lot(
        (edit) => {
          for (const { name, ...values } of list) Object.assign(field(edit, name), { enum: null }, values)
        },
        { fills: given },
      )
      const effects = engine.planModel(change).steps.map((step) => step.effect)
      try {
        engine.changeModel(
          change,
          effects.every((each) => each !== 'blocked'),
        )
      } catch (error) {
        if (!(error instanceof HookError)) throw error
        expect(snapshot()).toBe(before)
        return
      }
      expect(effects).not.toContain('blocked')
      const { tables } = engine.info()
      for (const record of engine.list('lot', {}).records)
        for (const each of tables.find((table) => table.name === 'lot')!.fields) {
          expect(fitsType(each, record[each.name])).toBe(true)
          if (each.required) expect(record[each.name]).not.toBeNull()
        }
      expect(engine.save([{ table: 'site', values: { name: 'still works' } }], {}).error).toBeNull()
    }),
    { numRuns: 60, seed: 4 },
  )
})
