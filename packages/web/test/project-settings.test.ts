import fc from 'fast-check'
import { expect, test } from 'vitest'
import { settingsOf, withSettings } from '../src/lib/project-settings'

/** project.json through the settings form: what was not edited stays. */

const FILE = {
  $schema: 'theirs',
  name: 'shop',
  title: 'Shop',
  description: 'stays',
  users: ['kim', { name: 'ben', title: 'Ben', id: 'u2' }],
  sequences: { bill: { prefix: 'B-', digits: 5, start: 10 } },
  budgets: { queries: 50 },
  gate: { findings: false, coverage: 80, tests: true },
  batchSize: 100,
}
const text = JSON.stringify(FILE)

test('settings that are not changed stay, with every keyword that the form does not know', () => {
  expect(JSON.parse(withSettings(text, settingsOf(text)))).toEqual(FILE)
})

test('an empty field removes its keyword', () => {
  const settings = settingsOf(text)
  const emptied = { ...settings, title: '', users: [], sequences: [], batchSize: null, off: [], coverage: null }
  expect(JSON.parse(withSettings(text, { ...emptied, budgets: { ...settings.budgets, queries: null } }))).toEqual({
    $schema: 'theirs',
    name: 'shop',
    description: 'stays',
    gate: { tests: true },
  })
})

test('a user who is renamed takes no other user’s properties along', () => {
  const settings = settingsOf(text)
  settings.users[1]!.name = 'bea'
  expect((JSON.parse(withSettings(text, settings)) as { users: unknown[] }).users).toEqual(['kim', { name: 'bea', title: 'Ben' }])
})

test('whatever is set is read back', () => {
  const count = fc.option(fc.nat({ max: 1000 }), { nil: null })
  const name = fc.stringMatching(/^[a-z]{1,8}$/)
  const settings = fc.record({
    title: fc.string(),
    users: fc.uniqueArray(fc.record({ name, title: fc.string() }), { selector: (user) => user.name }),
    sequences: fc.uniqueArray(fc.record({ name, prefix: fc.string(), digits: count, start: count }), {
      selector: (each) => each.name,
    }),
    batchSize: count,
    budgets: fc.record({ queries: count, rowsRead: count, rowsWritten: count, steps: count, ripples: count, ms: count }),
    off: fc.subarray(['model', 'types', 'findings', 'tests', 'bulk'] as const).map((each) => [...each]),
    coverage: count,
  })
  fc.assert(
    fc.property(settings, (each) => {
      expect(settingsOf(withSettings('{"name":"x"}', each))).toEqual(each)
    }),
  )
})
