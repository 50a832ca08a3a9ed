import { expect, test } from 'vitest'
import { withException, withState } from '../src/lib/plugin-settings'

/** plugin.json through its forms: only what was changed changes. */

const text = JSON.stringify({
  name: 'p',
  version: '1.0.0',
  hooks: { a: { pilot: ['kim'], accepts: { 'order-free': 'wanted' } }, b: { off: true } },
})
const hooks = (changed: string) => (JSON.parse(changed) as { hooks?: unknown }).hooks

test('who a hook is live for is one thing at a time', () => {
  expect(hooks(withState(text, 'a', { state: 'off' }))).toMatchObject({ a: { off: true, accepts: { 'order-free': 'wanted' } } })
  expect(hooks(withState(text, 'b', { state: 'pilot', users: ['ben'] }))).toMatchObject({ b: { pilot: ['ben'] } })
  expect(hooks(withState(text, 'b', { state: 'live' }))).not.toHaveProperty('b')
})

test('an exception is added beside the others, and the last one takes its keyword along', () => {
  const both = withException(text, 'a', 'accepts', 'bad-row-alone', 'known')
  expect(hooks(both)).toMatchObject({ a: { accepts: { 'order-free': 'wanted', 'bad-row-alone': 'known' } } })
  const none = withException(withException(both, 'a', 'accepts', 'order-free', null), 'a', 'accepts', 'bad-row-alone', null)
  expect(hooks(none)).toEqual({ a: { pilot: ['kim'] }, b: { off: true } })
})

test('a file without settings stays as it is when nothing is set', () => {
  const bare = `${JSON.stringify({ name: 'p', version: '1.0.0' }, null, 2)}\n`
  expect(withState(bare, 'a', { state: 'live' })).toBe(bare)
})
