import { expect, test } from 'vitest'
import { latestOnly } from '../src/lib/latest'

test('an answer that is overtaken is nothing, also when it failed', async () => {
  const latest = latestOnly()
  const answers: ((value: string) => void)[] = []
  const ask = () => latest(new Promise<string>((resolve) => answers.push(resolve)))
  const [first, second] = [ask(), ask()]
  answers[1]!('second')
  answers[0]!('first')
  expect([await first, await second]).toEqual([null, 'second'])
  const late = latest(Promise.reject(new Error('late')))
  expect(await latest(Promise.resolve('last'))).toBe('last')
  expect(await late).toBeNull()
  await expect(latest(Promise.reject(new Error('told')))).rejects.toThrow('told')
})
