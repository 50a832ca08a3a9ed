import { expect, test } from 'vitest'
import { Fuses } from '../../src/engine/hosts/fuses.js'

/** A hook that stops the engine three times within a minute is paused, and tried again at growing intervals. */

function fuses() {
  let now = 1_000_000
  const made = new Fuses(() => now)
  return { made, later: (seconds: number) => (now += seconds * 1000), refused: () => made.refusing().map(({ hook }) => hook) }
}

test('three stops within a minute pause it, and it alone', () => {
  const { made, later, refused } = fuses()
  expect([made.stopped('a'), made.stopped('b'), made.stopped('a')]).toEqual([false, false, false])
  later(10)
  expect(made.stopped('a')).toBe(true)
  expect(refused()).toEqual(['a'])
  expect(made.list()[0]).toMatchObject({ hook: 'a', stops: 3 })
})

test('three stops in more than a minute do not', () => {
  const { made, later, refused } = fuses()
  for (let stop = 0; stop < 10; stop++) {
    expect(made.stopped('a')).toBe(false)
    later(31)
  }
  expect(refused()).toEqual([])
})

test('it is tried again after 10 s, then after twice as long each time', () => {
  const { made, later, refused } = fuses()
  for (let stop = 0; stop < 3; stop++) made.stopped('a')
  for (const seconds of [10, 20, 40, 80]) {
    later(seconds - 1)
    expect(refused()).toEqual(['a'])
    later(1)
    expect(refused()).toEqual([])
    made.stopped('a')
  }
})

test('a save in which it ran, or anyone who switches it, ends the pause', () => {
  const { made, refused } = fuses()
  for (let stop = 0; stop < 3; stop++) made.stopped('a')
  made.ran(['b'])
  expect(refused()).toEqual(['a'])
  made.ran(['a', 'b'])
  expect(refused()).toEqual([])
  for (let stop = 0; stop < 3; stop++) made.stopped('a')
  made.reset('a')
  expect(made.isAnyBlown).toBe(false)
})
