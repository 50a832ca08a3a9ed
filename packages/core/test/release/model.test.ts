import { beforeEach, describe, expect, test } from 'vitest'
import { HookError } from '../../src/errors.js'
import { editOf, type TableEdit } from '../../src/model/table-edit.js'
import { TestEngine } from '../test-engine.js'
import { filesOf, hook, text } from '../world.js'

/** A change of the model and the releases that somebody gets: renamed with it, or said to break. */

const HOOK = 'plugins/p/hooks/mark.ts'
const marks = (word: string, field = 'mark', more = '') =>
  hook(`{ table: 'item', moment: 'before-save', watch: ['name'], each(row) { row.now.${field} = '${word}'${more} } }`)
const files = Object.fromEntries(
  filesOf({
    tables: { item: { fields: { name: text, mark: text, more: text } } },
    hooks: { mark: marks('live') },
    project: { users: ['ada', 'bram'] },
  }),
)
files['plugins/p/plugin.json'] = '{ "version": "1.0.0" }'

let engine: TestEngine
beforeEach(() => {
  engine = new TestEngine()
  engine.open(files)
})
const edited = (change: (edit: TableEdit) => TableEdit) => ({ table: 'item', edit: change(editOf(engine.info().tables[0]!)) })
const renamed = (from: string, to: string) =>
  edited((edit) => ({
    ...edit,
    fields: edit.fields.map((field) => (field.name === from ? { ...field, name: to } : field)),
  }))
const without = (name: string) => edited((edit) => ({ ...edit, fields: edit.fields.filter((field) => field.name !== name) }))
const saved = (user = 'ada', field = 'mark'): unknown => {
  const { error, records } = engine.save([{ table: 'item', values: { name: 'x' } }], { user })
  if (error) throw new HookError(error)
  return records[0]![field]
}
const own = () => engine.releases().plugins[0]!.releases
const effects = (edit: Parameters<TestEngine['planModel']>[0]) =>
  engine.planModel(edit).steps.map(({ effect, text }) => [effect, text])

describe('a field gets another name', () => {
  test('the release with it, although the working copy has more', () => {
    engine.putFiles({ [HOOK]: marks('working') })
    engine.changeModel(renamed('mark', 'label'), false)
    expect(saved('ada', 'label')).toBe('live')
    expect(own().map(({ version, note }) => [version, note])).toEqual([
      ['1.0.1', '1.0.0 with the new names of fields.'],
      ['1.0.0', 'As the project was opened.'],
    ])
    expect(engine.file(HOOK)).toContain(`row.now.label = 'working'`)
    engine.release({ plugins: ['p'], reason: 'a test' })
    expect(saved('ada', 'label')).toBe('working')
  })

  test('the pilot with it, for its users', () => {
    engine.putFiles({ [HOOK]: marks('pilot') })
    engine.release({ plugins: ['p'], reason: 'a test', audience: ['bram'] })
    engine.putFiles({ [HOOK]: marks('working') })
    expect(effects(renamed('mark', 'label'))).toEqual([
      ['safe', 'mark is named label from now on, in the hooks and fixtures too.'],
      ['safe', 'Release p 1.0.0 (live) is released again with it, with the new names in its code.'],
      ['safe', 'Release p 1.0.1 (piloted by bram) is released again with it, with the new names in its code.'],
    ])
    engine.changeModel(renamed('mark', 'label'), false)
    expect([saved('ada', 'label'), saved('bram', 'label')]).toEqual(['live', 'pilot'])
    expect(own().map(({ version, audience }) => [version, audience])).toEqual([
      ['1.0.3', ['bram']],
      ['1.0.2', null],
      ['1.0.1', []],
      ['1.0.0', null],
    ])
  })

  test('a release that does not use it stays as it is', () => {
    expect(effects(renamed('more', 'other'))).toHaveLength(1)
    engine.changeModel(renamed('more', 'other'), false)
    expect(own()).toHaveLength(1)
    expect(saved()).toBe('live')
  })
})

describe('a field goes', () => {
  test('that a live release watches: nothing is done, and it is shown what to release first', () => {
    engine.putFiles({ [HOOK]: hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.more = 'm' } }`) })
    expect(effects(without('name')).at(-1)).toEqual([
      'blocked',
      expect.stringMatching(/^Release p 1\.0\.0 \(live\) could not run any more: .*no field "name".*Release a text first/),
    ])
    expect(() => engine.changeModel(without('name'), true)).toThrow(/could not run any more/)
    expect(saved()).toBe('live')
  })

  test('that a live release writes: it is shown that this breaks, and only done when that is accepted', () => {
    engine.putFiles({ [HOOK]: marks('working', 'more') })
    expect(effects(without('mark')).find(([effect]) => effect === 'breaks')?.[1]).toMatch(
      /^Release p 1\.0\.0 \(live\) would break: plugins\/p\/hooks\/mark\.ts, line 2: .*'mark' does not exist/,
    )
    expect(() => engine.changeModel(without('mark'), false)).toThrow(/would break/)
    engine.changeModel(without('mark'), true)
    expect(() => saved('ada', 'more')).toThrow(/no field mark/)
    engine.release({ plugins: ['p'], reason: 'a test' })
    expect(saved('ada', 'more')).toBe('working')
  })
})
