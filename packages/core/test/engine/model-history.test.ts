import fc from 'fast-check'
import jsonPatch from 'fast-json-patch'
import { expect, test } from 'vitest'
import { editOf, newField, type TableEdit } from '../../src/model/table-edit.js'
import { modelPatch } from '../../src/save/model-history.js'
import { TestEngine } from '../test-engine.js'
import { filesOf, hook, integer, number, text } from '../world.js'

/** A change of a table is in the history of its records: their patches apply from the first to the last, by a library that is not ours. */

const files = Object.fromEntries(
  filesOf({
    tables: { lot: { fields: { bay: text, mass: number, count: integer } } },
    hooks: {
      caps: hook(
        `{ table: 'lot', moment: 'before-save', watch: ['bay'], each(row) { row.now.bay = row.now.bay?.toUpperCase() ?? null } }`,
      ),
    },
  }),
)

function edited(engine: TestEngine, change: (edit: TableEdit) => void): { table: string; edit: TableEdit } {
  const edit = editOf(engine.info().tables.find((each) => each.name === 'lot')!)
  change(edit)
  return { table: 'lot', edit }
}

test('names, types, new fields and fields that go', () => {
  const engine = new TestEngine()
  engine.open(files)
  engine.save([{ table: 'lot', values: { bay: 'a', mass: 1.5, count: 3 } }])
  engine.save([{ table: 'lot', values: { bay: 'b' } }])
  const rename = edited(engine, (edit) => (edit.fields.find(({ name }) => name === 'bay')!.name = 'shelf'))
  engine.changeModel(rename, true)
  engine.save([{ table: 'lot', id: 1, values: { shelf: 'c' } }])
  const more = edited(engine, (edit) => {
    edit.fields = edit.fields.filter(({ name }) => name !== 'count')
    Object.assign(
      edit.fields.find(({ name }) => name === 'mass')!,
      { type: 'string' },
    )
    edit.fields.push(newField('colour', 'Colour'))
  })
  engine.changeModel({ ...more, fills: { colour: 'red' } }, true)
  engine.save([{ table: 'lot', id: 1, values: { colour: 'blue', mass: 'light' } }])
  for (const id of [1, 2]) {
    const { record, history } = engine.record('lot', id)
    let document: unknown = null
    for (const { patch } of history) document = jsonPatch.applyPatch(document, patch as never, true, false).newDocument
    expect(document).toEqual(record)
  }
  const { history } = engine.record('lot', 1)
  expect(history.map(({ event, patch }) => `${event} ${patch.map(({ op, path }) => `${op} ${path}`).join(', ')}`)).toEqual([
    'create replace ',
    'model move /shelf',
    'update test /shelf, replace /shelf',
    'model test /count, remove /count, test /mass, replace /mass, add /colour',
    'update test /mass, replace /mass, test /colour, replace /colour',
  ])
})

test('a change that leaves the records alone leaves no entry', () => {
  const engine = new TestEngine()
  engine.open(files)
  engine.save([{ table: 'lot', values: { bay: 'a' } }])
  engine.changeModel(
    edited(engine, (edit) => (edit.fields.find(({ name }) => name === 'bay')!.label = 'Bay')),
    true,
  )
  expect(engine.record('lot', 1).history).toHaveLength(1)
})

test('whatever becomes of the fields: the patch makes the one record of the other', () => {
  const name = fc.constantFrom('a', 'b', 'c', 'd', 'e')
  const value = fc.oneof(fc.constant(null), fc.string(), fc.integer(), fc.boolean())
  const fields = fc.dictionary(name, value, { maxKeys: 5 })
  fc.assert(
    fc.property(fields, fields, fc.dictionary(name, name, { maxKeys: 3 }), (old, fresh, wished) => {
      const before = { ...old, id: 1 }
      const after = { ...fresh, id: 1 }
      // As a change of a table has them: each new name once, of fields that there are.
      const renames: Record<string, string> = {}
      for (const [from, to] of Object.entries(wished))
        if (from in old && to in fresh && from !== to && !Object.values(renames).includes(to)) renames[from] = to
      const { patch } = modelPatch(before, after, renames)
      expect(jsonPatch.applyPatch(structuredClone(before), patch as never, true).newDocument).toEqual(after)
    }),
    { numRuns: 2000, seed: 20261126 },
  )
})
