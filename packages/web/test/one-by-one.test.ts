import { expect, test } from 'vitest'
import { oneByOne } from '../src/lib/one-by-one'

test('one begins when the one before has ended, also where that failed', async () => {
  const queue = oneByOne()
  const said: string[] = []
  let end = () => {}
  const first = queue.run(async () => {
    said.push('first begins')
    await new Promise<void>((done) => (end = done))
    said.push('first fails')
    throw new Error('no')
  })
  const second = queue.run(async () => {
    said.push('second')
    return 2
  })
  const ended = queue.ended().then(() => said.push('ended'))
  await Promise.resolve()
  expect(said).toEqual(['first begins'])
  end()
  await expect(first).rejects.toThrow('no')
  await expect(second).resolves.toBe(2)
  await ended
  expect(said).toEqual(['first begins', 'first fails', 'second', 'ended'])
})
