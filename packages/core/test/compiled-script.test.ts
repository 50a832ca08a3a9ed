import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, expect, test } from 'vitest'
import { runBundle } from '@patient-hook/core/compiled-script'

/** What V8 made of a file is used for no other text, and only one of a file is kept. */

const folder = mkdtempSync(join(tmpdir(), 'compiled-'))
const cache = join(import.meta.dirname, '../../../node_modules/.cache/patient-hook')
const name = `t${process.pid}.bundle.cjs`
const kept = () => readdirSync(cache).filter((each) => each.startsWith(`${name}-`))
const told = globalThis as unknown as { told?: unknown }
const run = (text: string) => {
  const file = join(folder, name)
  writeFileSync(file, text)
  runBundle(file)
  return told.told
}
afterAll(() => {
  delete told.told
  for (const each of kept()) rmSync(join(cache, each))
  rmSync(folder, { recursive: true })
})

test('a text of the same length is another one', () => {
  expect(run('globalThis.told = () => 1')).toEqual(expect.any(Function))
  const [first] = kept()
  expect(kept()).toHaveLength(1)
  run('globalThis.told = () => 1')
  expect(kept()).toEqual([first])
  run('globalThis.told = () => 2')
  expect((told.told as () => number)()).toBe(2)
  expect(kept()).toHaveLength(1)
  expect(kept()).not.toEqual([first])
})

test('so it is in a process with many flags', () => {
  const before = process.execArgv
  process.execArgv = [`--title=${'t'.repeat(300)}`]
  try {
    run('globalThis.told = 4')
    expect(run('globalThis.told = 5')).toBe(5)
    expect(kept()).toHaveLength(1)
  } finally {
    process.execArgv = before
  }
})

test('it stands where it stands', () => {
  expect(run(`globalThis.told = [__dirname, require('node:path').basename(__filename)]`)).toEqual([folder, name])
})

test('what is kept and cannot be read is rebuilt', () => {
  run('globalThis.told = 3')
  writeFileSync(join(cache, kept()[0]!), 'no code of any kind')
  expect(run('globalThis.told = 3')).toBe(3)
})
