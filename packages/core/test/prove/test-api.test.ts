import { describe, expect, test } from 'vitest'
import { describe as told } from '../../src/errors.js'
import { makeRuntime } from '../../src/engine/runtime.js'
import { runTests, type TestResult } from '../../src/prove/run-tests.js'
import { filesOf, hook, integer, link, text } from '../world.js'

/** What unit tests are given, and how it is shown when one fails. */

const hooks = {
  'no-x': hook(
    `{ table: 'line', moment: 'before-save', each(row) { if (row.now.note === 'x') row.refuse('note', 'no x'); if (row.now.note === 'y') throw new Error('broken') } }`,
  ),
  few: hook(
    `{ table: 'head', moment: 'before-commit', touchedBy: ['line.head'], load: ({ rows, store }) => store.rollup('line', 'head', rows.map((row) => row.id), { count: true }), each(row, lines) { if (lines.get(row.id).count > 2) row.refuse(null, 'two lines at most') } }`,
  ),
}
const tables = {
  head: { fields: { name: { ...text, 'x-unique': true } } },
  line: { fields: { head: link('head'), note: text, qty: { ...integer, minimum: 1 } } },
}

function results(body: string): TestResult[] {
  const source = `import { test, expect } from 'patient-hook/test'\ntest('t', (api: any) => { const { save, saveMany, saveAll, ref, refusal, remove, rows, as, clock, get } = api\n${body}\n})`
  return runTests(makeRuntime(filesOf({ tables, hooks, tests: { all: source }, project: { users: ['ada'] } })))
}
const passes = (body: string) => expect(results(body).map((each) => each.error?.message ?? each.status)).toEqual(['passed'])

test('a test that expects nothing fails; that a save is refused is an expectation', () => {
  expect(results(`save('head', { name: 'a' })`)[0]).toMatchObject({ status: 'failed', error: { code: 'test/expects-nothing' } })
  expect(results(`refusal(() => save('line', { note: 'x' }))`)[0]).toMatchObject({ status: 'passed' })
})

describe('refusal catches whatever is refused', () => {
  test.each([
    ['by a hook', `save('line', { note: 'x' })`, 'hook/refused', 'note'],
    ['by a check', `save('line', { qty: 0 })`, 'check/bounds', 'qty'],
    ['a wrong type', `save('line', { qty: 'many' })`, 'save/wrong-type', 'qty'],
    ['an unknown field', `save('line', { qyt: 1 })`, 'save/unknown-field', 'qyt'],
    ['a record that is not there', `save('line', { id: 77, qty: 1 })`, 'save/not-found', null],
    ['a link to nowhere', `save('line', { head: 9 })`, 'check/link', 'head'],
    ['a name that is not given', `saveAll([{ table: 'line', values: { head: ref('nobody') } }])`, 'save/unknown-ref', 'head'],
    [
      'one record twice',
      `const one = save('line', {}); saveMany('line', [{ id: one.id, qty: 1 }, { id: one.id, qty: 2 }])`,
      'save/duplicate-row',
      null,
    ],
    ['a unique value', `saveMany('head', [{ name: 'a' }, { name: 'a' }])`, 'check/unique', 'name'],
    ['a removal', `const h = save('head', {}); save('line', { head: h.id }); remove('head', h.id)`, 'check/linked', null],
    [
      'at before-commit',
      `const h = save('head', {}); saveMany('line', [{ head: h.id }, { head: h.id }, { head: h.id }])`,
      'hook/refused',
      null,
    ],
    ['of a partial save', `saveMany('line', [{ qty: 1 }, { qty: 0 }], { partial: true })`, 'check/bounds', 'qty'],
  ])('%s', (_, call, code, field) =>
    passes(
      `expect(refusal(() => { ${call.replace(/(.*; |^)([^;]+)$/, '$1return $2')} })).toMatchObject({ code: '${code}', field: ${field === null ? 'null' : `'${field}'`} })`,
    ),
  )

  test('but not that a hook failed, nor that nothing was refused', () => {
    expect(results(`refusal(() => save('line', { note: 'y' }))`)[0]!.error).toMatchObject({ code: 'hook/threw', hook: 'no-x' })
    expect(results(`refusal(() => save('line', { note: 'z' }))`)[0]!.error!.message).toMatch(/expected the save to be refused/)
  })
})

describe('partial saves', () => {
  test('saveAll keeps whole documents, by their names too', () =>
    passes(`const document = (as: string, note: string) => [{ table: 'head', as, values: { name: as } }, { table: 'line', values: { head: ref(as), note } }]
      const all = saveAll([...document('a', 'fine'), ...document('b', 'x'), ...document('c', 'fine')], { partial: true })
      expect(all.kept.length).toBe(4)
      expect(all.refused.map((each: any) => [each.row, each.code])).toEqual([[3, 'save/document-refused'], [4, 'hook/refused']])
      expect([all.a.name, all.b, all.c.name]).toEqual(['a', null, 'c'])
      expect(rows('head').length).toBe(2)`))
})

describe('how a failed test is reported', () => {
  const line = (body: string) => told(results(body)[0]!.error!)
  test('the hook and its place once', () => {
    const text = line(`save('line', { note: 'x' })`)
    expect(text).toBe('hook no-x, plugins/p/hooks/no-x.ts:2, line row 1, field note: no x')
  })
  test('each of several refusals with its own place, at the line of the test', () => {
    expect(line(`saveMany('line', [{ note: 'x' }, { qty: 0 }])`)).toBe(
      'plugins/p/tests/all.test.ts:2: 2 refusals:\nhook no-x, plugins/p/hooks/no-x.ts:2, line row 1, field note: no x\nline row 2, field qty: Qty must be at least 1, but is 0',
    )
  })
  test('more than ten are counted', () => {
    expect(line(`saveMany('line', Array.from({ length: 14 }, () => ({ qty: 0 })))`).split('\n').at(-1)).toBe('and 4 more')
  })
})

describe('called wrongly', () => {
  test.each([
    [`as('nobody')`, /there is no|nobody/],
    [`clock('yesterday')`, /"yesterday" is not a valid timestamp/],
    [`clock('2026-01-01')`, /is not a valid timestamp/],
    [`saveAll('x')`, /takes a list/],
  ])('%s', (call, message) => expect(results(call)[0]!.error!.message).toMatch(message))

  test('the clock is given back in the form that is kept', () =>
    passes(`clock('2026-01-01T09:00:00+02:00'); expect(clock()).toBe('2026-01-01T07:00:00.000Z')`))
})

test('while an only is in a file, the other tests of it are skipped', () => {
  const files = filesOf({
    tables,
    hooks,
    tests: {
      a: `import { describe, expect, test } from 'patient-hook/test'
test('one', () => expect(1).toBe(2))
describe('group', () => test.only('two', {}, () => expect(1).toBe(1)))
test.skip('three', () => {})
`,
      b: `import { expect, test } from 'patient-hook/test'\ntest('four', () => expect(1).toBe(1))\n`,
    },
  })
  expect(runTests(makeRuntime(files)).map(({ name, status }) => [name, status])).toEqual([
    ['one', 'skipped'],
    ['group › two', 'passed'],
    ['three', 'skipped'],
    ['four', 'passed'],
  ])
})

describe('what a failed expectation says', () => {
  const said = (body: string) => results(body)[0]!.error!.message
  test('shows the difference where patterns stand within what is expected', () => {
    const message = said(
      `expect(save('head', { name: 'abc' })).toEqual({ id: expect.any(Number), name: expect.stringMatching(/^x/i) })`,
    )
    expect(message).toMatch(/StringMatching \/\^x\/i[^]*"abc"/)
    expect(message).not.toMatch(/TypeError/)
    passes(`expect(save('head', { name: 'Xyz' })).toEqual({ id: expect.any(Number), name: expect.stringMatching(/^x/i) })`)
    passes(`expect([{ a: 'xx' }]).toEqual([{ a: expect.not.stringMatching(/^y/) }]); expect('abc').toMatch(/B/i)`)
  })

  test('has no frames of the engine', () => {
    const message = said(`expect(() => { throw new Error('a\\nat home') }).toThrow('b')`)
    expect(message).toContain('a\nat home')
    expect(message).not.toMatch(/ph:|node:|eval|\.ts:/)
  })
})

describe('a test file', () => {
  const run = (body: string) =>
    runTests(
      makeRuntime(
        filesOf({
          tables,
          hooks,
          tests: { all: `import { test, expect, describe, beforeEach } from 'patient-hook/test'\n${body}` },
          project: { users: ['ada'] },
        }),
      ),
    ).map(({ name, status, error }) => [name, error?.message ?? status])

  test('runs beforeEach of what is around a test, the outer one first, in its own state', () => {
    const body = `
      const said = []
      beforeEach(({ save }) => { save('head', { name: 'outer' }); said.push('outer') })
      test('one', ({ rows }) => expect([rows('head').length, said.join()]).toEqual([1, 'outer']))
      describe('in', () => {
        test('two', ({ rows }) => expect(rows('head').map(head => head.name)).toEqual(['outer', 'inner']))
        beforeEach(({ save }) => { save('head', { name: 'inner' }) })
        test('three', ({ rows }) => expect(rows('head')).toHaveLength(2))
      })
      test('four', ({ rows }) => expect([rows('head').length, said.join()]).toEqual([1, 'outer']))`
    expect(run(body)).toEqual([
      ['one', 'passed'],
      ['in › two', 'passed'],
      ['in › three', 'passed'],
      ['four', 'passed'],
    ])
  })

  test('skips a describe', () => {
    const body = `describe.skip('later', () => { test('a', () => expect(1).toBe(2)); describe('b', () => test('c', () => {})) })
      test('d', () => expect(1).toBe(1))`
    expect(run(body)).toEqual([
      ['later › a', 'skipped'],
      ['later › b › c', 'skipped'],
      ['d', 'passed'],
    ])
  })

  test('a beforeEach that fails fails the test, and one that is no function is reported', () => {
    expect(run(`beforeEach(({ save }) => { save('line', { note: 'x' }) })\ntest('a', () => expect(1).toBe(1))`)).toEqual([
      ['a', 'no x'],
    ])
    expect(run(`beforeEach('x')`)[0]![1]).toMatch(/beforeEach takes a function, but got text "x"/)
  })

  test('names its cases by the letters of printf, by properties and their parts, and by their number', () => {
    const body = `
      test.each([[1.5, 'x'], [2, { a: 1 }]])('%s %d %i %f %j %% %# %$', () => expect(1).toBe(1))
      test.each([[3.7, 'y']])('%i of %o', () => expect(1).toBe(1))
      test.each([{ name: 'n', of: { kind: 'k' } }])('$name $of.kind $none', () => expect(1).toBe(1))
      test.each([1, 'two'])('mixed', () => expect(1).toBe(1))`
    expect(run(body).map(([name]) => name)).toEqual([
      '1.5 NaN NaN NaN null % 0 1',
      '2 NaN NaN NaN null % 1 2',
      '3 of y',
      'n k $none',
      'mixed (1)',
      'mixed (2)',
    ])
  })
})
