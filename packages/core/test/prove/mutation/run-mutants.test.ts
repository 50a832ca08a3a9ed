import { expect, test } from 'vitest'
import { mistakeName, type MutantResult } from '@patient-hook/contract'
import { makeRuntime } from '../../../src/engine/runtime.js'
import { runMutants } from '../../../src/prove/mutation/run-mutants.js'
import { filesOf, hook, integer, number, text } from '../../world.js'

/** What tests notice of mutations, and what shows those that they do not. */

const HOOK = hook(`{ table: 'lot', moment: 'before-save', watch: ['gross'], only: row => row.now.gross !== null,
  each(row) { if (row.now.gross > 100) row.refuse('gross', 'too heavy'); row.now.net = row.now.gross - 10 } }`)

function results(body: string, code = HOOK, misses: Record<string, string> = {}): MutantResult[] {
  const files = filesOf({
    tables: { lot: { fields: { gross: number, net: number, note: text, packs: integer } } },
    hooks: { mass: code },
    states: { mass: { misses } },
    tests: { all: `import { test, expect } from 'patient-hook/test'\n${body}` },
    fixtures: { base: { lot: [{ id: 1, gross: 50, net: 40, note: 'a', packs: 1 }] } },
  })
  const told: MutantResult[] = []
  runMutants(makeRuntime(files), (changed) => makeRuntime(new Map([...files, ...Object.entries(changed)])), 'mass', 0, {
    begin: () => {},
    result: (result) => void told.push(result),
  })
  return told
}
const ofKind = (all: MutantResult[], kind: string) => all.filter((each) => each.kind === kind)

test('a test that looks closely catches what one that does not look misses, with a batch that shows it', () => {
  const close = results(`
test('net', { fixtures: 'base' }, ({ save }) => expect(save('lot', { id: 1, gross: 70 }).net).toBe(60))
test('bound', { fixtures: 'base' }, ({ save, refusal }) => {
  expect(save('lot', { gross: 100 }).net).toBe(90)
  expect(refusal(() => save('lot', { gross: 101 })).message).toBe('too heavy')
})
test('empty', { fixtures: 'base' }, ({ save, ran }) => { save('lot', { note: 'x' }); expect(ran('mass')).toBe(0) })
test('note', { fixtures: 'base' }, ({ save, ran }) => { save('lot', { id: 1, note: 'x' }); expect(ran('mass')).toBe(0) })
`)
  expect(ofKind(close, 'number-moved').map(({ outcome }) => outcome)).toEqual(['caught', 'caught'])
  expect(ofKind(close, 'bound-moved')[0]).toMatchObject({ outcome: 'caught', by: 'plugins/p/tests/all.test.ts: bound' })
  expect(ofKind(close, 'dropped-refusal')[0]!.outcome).toBe('caught')
  expect(ofKind(close, 'dropped-watch')[0]!.outcome).toBe('caught')

  const careless = results(
    `test('it runs', { fixtures: 'base' }, ({ save, ran }) => { save('lot', { id: 1, gross: 70 }); expect(ran('mass')).toBe(1) })`,
  )
  const missed = ofKind(careless, 'number-moved')
  expect(missed.map(({ outcome }) => outcome)).toEqual(['missed', 'missed'])
  expect(missed[1]!.shows).toMatch(/net = .* without it.*|without it net = /)
  expect(missed[1]!.batch!.length).toBeGreaterThan(0)
})

test('without a test nothing is caught, and it says why', () => {
  const all = results(`test('other', ({ }) => expect(1).toBe(1))`)
  expect(new Set(all.map(({ outcome }) => outcome))).toEqual(new Set(['stopped']))
  expect(all[0]!.by).toMatch(/no test saves anything|cannot|only/)
})

test('what no batch tells apart is equal; what cannot be loaded is stopped', () => {
  const code = hook(`{ table: 'lot', moment: 'before-save', after: [], each(row) { row.now.packs = Math.max(1, 1) } }`)
  const all = results(
    `test('it runs', { fixtures: 'base' }, ({ save }) => expect(save('lot', { gross: 1 }).packs).toBe(1))`,
    code,
  )
  expect(ofKind(all, 'dropped-after')[0]!.outcome).toBe('equal')
  expect(ofKind(all, 'other-rounding')[0]!.outcome).toBe('equal')
  expect(ofKind(all, 'other-moment')[0]!.outcome).toMatch(/caught|stopped/)
})

test('a mistake that no test need notice has a reason, by its name; a name that is none of the hook is refused', () => {
  const body = `test('it runs', { fixtures: 'base' }, ({ save, ran }) => { save('lot', { id: 1, gross: 70 }); expect(ran('mass')).toBe(1) })`
  const name = mistakeName(ofKind(results(body), 'number-moved')[0]!)
  const all = results(body, HOOK, { [name]: 'the scale is that coarse' })
  expect(ofKind(all, 'number-moved').map(({ outcome, reason }) => [outcome, reason])).toEqual([
    ['missed', 'the scale is that coarse'],
    ['missed', null],
  ])
  const wrong = name.replace('number', 'nunber')
  expect(() => results(body, HOOK, { [wrong]: 'x' })).toThrow(
    `/hooks/mass/misses: there is no mistake ${JSON.stringify(wrong)} in the hook's code`,
  )
})

test('a test that fails on the hook as it is notices no mistake', () => {
  const wrong = `test('wrong', { fixtures: 'base' }, ({ save }) => expect(save('lot', { id: 1, gross: 70 }).net).toBe(-1))\n`
  expect(results(wrong)[0]).toMatchObject({ outcome: 'stopped' })
  const runs = `test('it runs', { fixtures: 'base' }, ({ save, ran }) => { save('lot', { id: 1, gross: 70 }); expect(ran('mass')).toBe(1) })\n`
  expect(ofKind(results(wrong + runs), 'number-moved').map(({ outcome }) => outcome)).toEqual(['missed', 'missed'])
})
