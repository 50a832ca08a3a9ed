import { beforeEach, describe, expect, test } from 'vitest'
import { HookError } from '../../src/errors.js'
import { editOf } from '../../src/model/table-edit.js'
import { TestEngine } from '../test-engine.js'
import { filesOf, hook, text } from '../world.js'

/** What runs on saves: releases of plugins, for everyone or for pilots. */

const HOOK = 'plugins/p/hooks/mark.ts'
const marks = (word: string, field = 'mark') =>
  hook(`{ table: 'item', moment: 'before-save', watch: ['name'], each(row) { row.now.${field} = '${word}' } }`)
const files = Object.fromEntries(
  filesOf({
    tables: { item: { fields: { name: text, mark: text, more: text } } },
    hooks: { mark: marks('first') },
    project: { users: ['ada', 'bram', 'ines'] },
  }),
)
files['plugins/p/plugin.json'] = '{ "version": "1.0.0" }'

let engine: TestEngine
beforeEach(() => {
  engine = new TestEngine()
  engine.open(files)
})

const saved = (user = 'ada', field = 'mark'): unknown => {
  const { error, records } = engine.save([{ table: 'item', values: { name: 'x' } }], { user })
  if (error) throw new HookError(error)
  return records[0]![field]
}
const write = (word: string) => engine.putFiles({ [HOOK]: marks(word) })
const releaseNow = (more: object = {}) => engine.release({ plugins: ['p'], reason: 'a test', ...more })
const own = () => engine.releases().plugins.find(({ plugin }) => plugin === 'p')!
const versions = () => own().releases.map(({ version, audience }) => [version, audience])
const codeOf = (work: () => unknown): string => {
  try {
    work()
  } catch (error) {
    return (error as HookError).code
  }
  return 'done'
}

describe('the working copy', () => {
  test('is kept without running; released, it runs from the next save on', () => {
    write('second')
    expect(engine.file(HOOK)).toContain('second')
    expect(saved()).toBe('first')
    releaseNow({ note: 'Another word.' })
    expect(saved()).toBe('second')
    expect(own().releases[0]).toMatchObject({ version: '1.0.1', note: 'Another word.', user: 'ada', audience: null })
  })

  test('gets the version of its release, and nothing differs then', () => {
    write('second')
    expect(own().working).toEqual({
      files: [{ file: HOOK, change: 'changed' }],
      hooks: [{ hook: 'mark', change: 'changed', says: 'its code' }],
    })
    releaseNow({ part: 'minor' })
    expect(JSON.parse(engine.file('plugins/p/plugin.json'))).toMatchObject({ version: '1.1.0' })
    expect(own().working).toEqual({ files: [], hooks: [] })
    expect(codeOf(() => releaseNow())).toBe('release/nothing-new')
  })

  test('history names the version that ran', () => {
    write('second')
    releaseNow()
    saved()
    expect(
      engine
        .record('item', 1)
        .history.at(-1)!
        .changes.find(({ field }) => field === 'mark')!.by,
    ).toBe('p/mark@1.0.1')
  })

  test('a newer version that was written into plugin.json is taken', () => {
    engine.putFiles({ 'plugins/p/plugin.json': '{ "name": "p", "version": "3.0.0-rc.1" }' })
    write('second')
    expect(releaseNow().version).toBe('3.0.0-rc.1')
  })

  test('what was changed after the gate was looked at is not released', () => {
    write('second')
    const { stamp } = engine.candidate(['p'])
    write('third')
    expect(codeOf(() => releaseNow({ stamp }))).toBe('release/changed')
    expect(saved()).toBe('first')
  })

  test('a gate that does not hold stops it, but for a reason, which is kept', () => {
    write('second')
    const gate = [{ what: 'tests', holds: false, detail: 'one failed' }]
    expect(codeOf(() => releaseNow({ gate, reason: null }))).toBe('release/not-held')
    expect(codeOf(() => releaseNow({ gate: [], reason: null }))).toBe('release/not-held')
    expect(saved()).toBe('first')
    releaseNow({ gate, reason: 'the vault is closed' })
    expect(own().releases[0]).toMatchObject({ gate, reason: 'the vault is closed' })
  })

  test('a plugin that went from it is live until that is released', () => {
    engine.putFiles({ [HOOK]: null, 'plugins/p/plugin.json': null })
    expect(saved()).toBe('first')
    releaseNow({ part: 'major' })
    expect(saved()).toBe(null)
    engine.stepBack('p')
    expect(saved()).toBe('first')
  })

  test('hooks that come, go and move are reported', () => {
    engine.putFiles({
      'plugins/p/hooks/other.ts': hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.more = row.now.mark } }`),
    })
    expect(own().working.hooks).toEqual([{ hook: 'other', change: 'added', says: 'before-save of item' }])
    releaseNow()
    engine.putFiles({
      [HOOK]: hook(
        `{ table: 'item', moment: 'before-save', after: ['other'], watch: ['name'], each(row) { row.now.mark = 'first' } }`,
      ),
    })
    expect(own().working.hooks).toEqual([
      { hook: 'mark', change: 'changed', says: 'its code; runs after other instead of first' },
      { hook: 'other', change: 'moved', says: 'runs first instead of after mark' },
    ])
  })
})

describe('pilots', () => {
  test('one user gets it, another does not; opened, everyone does', () => {
    write('second')
    const { id } = releaseNow({ audience: ['bram'] })
    expect([saved('ada'), saved('bram'), saved('ines')]).toEqual(['first', 'second', 'first'])
    engine.setAudience(id, ['bram', 'ines'])
    expect([saved('ada'), saved('bram'), saved('ines')]).toEqual(['first', 'second', 'second'])
    engine.setAudience(id, null)
    expect([saved('ada'), saved('bram'), saved('ines')]).toEqual(['second', 'second', 'second'])
  })

  test('one that was undone is nobody’s', () => {
    write('second')
    const { id } = releaseNow({ audience: ['bram'] })
    engine.setAudience(id, [])
    expect(saved('bram')).toBe('first')
    expect(engine.releases().log.map(({ what, detail }) => [what, detail])).toEqual([
      ['taken back', 'from bram'],
      ['piloted', 'to bram; a test'],
    ])
  })

  test('a release to everyone ends pilots of the plugin, and says so', () => {
    write('second')
    releaseNow({ audience: ['bram'] })
    write('third')
    releaseNow()
    expect(saved('bram')).toBe('third')
    expect(versions()).toEqual([
      ['1.0.2', null],
      ['1.0.1', []],
      ['1.0.0', null],
    ])
    expect(engine.releases().log[0]!.detail).toBe('to everyone; the pilot of 1.0.1 (bram) ended; a test')
  })

  test('a user has one pilot of a plugin: another takes its place', () => {
    write('second')
    releaseNow({ audience: ['bram', 'ines'] })
    write('third')
    releaseNow({ audience: ['ines'] })
    expect([saved('bram'), saved('ines')]).toEqual(['second', 'third'])
    expect(versions().slice(0, 2)).toEqual([
      ['1.0.2', ['ines']],
      ['1.0.1', ['bram']],
    ])
    expect(engine.releases().log[0]!.detail).toBe('to ines; the pilot of 1.0.1 (ines) ended; a test')
  })

  test('a step back leaves pilots what they have', () => {
    write('second')
    releaseNow()
    write('third')
    releaseNow({ audience: ['bram'] })
    engine.stepBack('p')
    expect([saved('ada'), saved('bram')]).toEqual(['first', 'third'])
  })

  test('users that there are not, and releases that cannot be opened, are refused', () => {
    write('second')
    expect(codeOf(() => releaseNow({ audience: ['bramm'] }))).toBe('release/bad')
    const { id } = releaseNow({ audience: ['bram'] })
    expect(codeOf(() => engine.setAudience(id, ['nobody']))).toBe('release/bad')
    engine.setAudience(id, [])
    write('third')
    const live = releaseNow()
    expect(codeOf(() => engine.setAudience(id, null))).toBe('release/bad')
    expect(codeOf(() => engine.setAudience(live.id, ['bram']))).toBe('release/bad')
    expect(codeOf(() => engine.setAudience(99, null))).toBe('release/unknown')
  })
})

describe('steps back and switches', () => {
  test('each step goes to the text before; the text is its own release', () => {
    write('second')
    releaseNow()
    write('third')
    releaseNow()
    expect(engine.stepBack('p')).toMatchObject({ version: '1.0.3', textOf: '1.0.1' })
    expect(saved()).toBe('second')
    expect(engine.stepBack('p')).toMatchObject({ version: '1.0.4', textOf: '1.0.0' })
    expect(saved()).toBe('first')
    expect(codeOf(() => engine.stepBack('p'))).toBe('release/no-step-back')
    // The working copy is where it was, and can be released again.
    expect(engine.file(HOOK)).toContain('third')
    expect(releaseNow().version).toBe('1.0.5')
    expect(saved()).toBe('third')
  })

  test('to a version by its name', () => {
    write('second')
    releaseNow()
    write('third')
    releaseNow()
    const first = own().releases.at(-1)!
    expect(engine.stepBack('p', first.id)).toMatchObject({ textOf: '1.0.0' })
    expect(saved()).toBe('first')
  })

  test('a text that cannot run with the tables of now is not gone back to', () => {
    engine.putFiles({ [HOOK]: marks('second', 'more') })
    releaseNow()
    const edit = editOf(engine.info().tables[0]!)
    engine.changeModel({ table: 'item', edit: { ...edit, fields: edit.fields.filter(({ name }) => name !== 'mark') } }, true)
    expect(codeOf(() => engine.stepBack('p'))).toBe('release/fields-gone')
    expect(saved('ada', 'more')).toBe('second')
  })

  test('a hook is off at once, and on again as its release says', () => {
    engine.switchHook('mark', 'off')
    expect(saved()).toBe(null)
    expect(engine.releases().hooks[0]!.switched).toMatchObject({ state: 'off', user: 'ada' })
    engine.switchHook('mark', null)
    expect(saved()).toBe('first')
    expect(codeOf(() => engine.switchHook('marc', 'off'))).toBe('release/bad')
  })

  describe('a switch goes along with a hook that gets another name', () => {
    const RENAMED = 'plugins/p/hooks/label.ts'
    const rename = (text = marks('first')) => engine.putFiles({ [HOOK]: null, [RENAMED]: text })
    const switched = () => engine.releases().hooks.map(({ hook, switched }) => [hook, switched?.state ?? null])

    test('in a release to everyone, and back again', () => {
      engine.switchHook('mark', 'off')
      rename(marks('other'))
      releaseNow()
      expect(saved()).toBe(null)
      expect(switched()).toEqual([['label', 'off']])
      expect(engine.releases().log[0]).toMatchObject({ hook: 'label', what: 'switched' })
      engine.stepBack('p')
      expect(saved()).toBe(null)
      expect(switched()).toEqual([['mark', 'off']])
    })

    test('in a pilot for those who get it, and for the others under the old name', () => {
      engine.switchHook('mark', 'off')
      rename()
      const { id } = releaseNow({ audience: ['ines'] })
      expect([saved('ines'), saved('ada')]).toEqual([null, null])
      engine.setAudience(id, null)
      expect([saved('ines'), saved('ada')]).toEqual([null, null])
      expect(switched()).toEqual([['label', 'off']])
      engine.switchHook('label', null)
      expect(saved()).toBe('first')
    })

    test('and not to a hook that is another one', () => {
      engine.switchHook('mark', 'off')
      rename(hook(`{ table: 'item', moment: 'after-save', finish({ rows }) { if (rows.length > 999) throw new Error('many') } }`))
      releaseNow()
      expect(switched()).toEqual([['label', null]])
    })
  })

  test('a hook that is off by its plugin.json can be switched on', () => {
    engine.putFiles({ 'plugins/p/plugin.json': '{ "version": "1.0.0", "hooks": { "mark": { "off": true } } }' })
    releaseNow()
    expect(saved()).toBe(null)
    engine.switchHook('mark', 'on')
    expect(saved()).toBe('first')
  })
})

describe('how hooks are doing', () => {
  test('runs, refusals and errors are counted by version', () => {
    saved()
    saved()
    engine.putFiles({
      [HOOK]: hook(
        `{ table: 'item', moment: 'before-save', each(row) { if (row.now.name === 'x') row.refuse('name', 'no'); else row.now.mark = row.now.nothing } }`,
      ),
    })
    releaseNow()
    expect(codeOf(() => saved())).toBe('hook/refused')
    engine.save([{ table: 'item', values: { name: 'y' } }])
    const hours = engine.hookHours('mark')
    expect(hours.map(({ version, saves, ran, refused, failed }) => [version, saves, ran, refused, failed])).toEqual([
      ['1.0.0', 2, 2, 0, 0],
      ['1.0.1', 2, 2, 1, 1],
    ])
    expect(engine.releases().hooks[0]!.day).toMatchObject({ ran: 4, refused: 1, failed: 1 })
    expect(hours[0]!.ms).toBeGreaterThan(0)
  })

  test('since which version a hook stands as it does', () => {
    engine.putFiles({
      'plugins/p/hooks/other.ts': hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.more = 'm' } }`),
    })
    releaseNow()
    write('second')
    releaseNow()
    expect(engine.releases().hooks.map(({ hook, since, version }) => [hook, since, version])).toEqual([
      ['mark', '1.0.2', '1.0.2'],
      ['other', '1.0.1', '1.0.2'],
    ])
  })
})
