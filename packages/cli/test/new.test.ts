import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'

/** Hooks from recipes on the command line: the hook and its test are written, or nothing is. */

const cli = join(import.meta.dirname, '../bin/patient-hook.js')
let base: string
const run = (...args: string[]) => spawnSync('node', [cli, ...args], { encoding: 'utf8', cwd: base })
const hookFile = (name: string) => join(base, 'shop/plugins/main/hooks', `${name}.ts`)

beforeAll(() => {
  base = mkdtempSync(join(tmpdir(), 'new-'))
  run('init', 'shop')
})
afterAll(() => rmSync(base, { recursive: true, force: true }))

test('a recipe writes a hook and a test that passes', { timeout: 120_000 }, () => {
  const inputs = ['--input', 'field=quantity', '--input', 'value=3']
  const made = run('new', 'hook', 'item-quantity', 'shop', '--table', 'item', '--recipe', 'default-when-empty', ...inputs)
  expect([made.status, made.stderr]).toEqual([0, ''])
  expect(readFileSync(hookFile('item-quantity'), 'utf8')).toContain('row.now.quantity ??= 3')
  expect(run('test', 'shop', '--filter', 'item-quantity').stdout).toMatch(/1 passed, 0 failed/)
  const again = run('new', 'hook', 'item-quantity', 'shop', '--table', 'item')
  expect([again.status, again.stderr]).toEqual([2, expect.stringContaining('item-quantity already exists')])
})

test('without a recipe the hook is empty', () => {
  expect(run('new', 'hook', 'item-empty', 'shop', '--table', 'item').status).toBe(0)
  expect(readFileSync(hookFile('item-empty'), 'utf8')).toContain("table: 'item'")
})

test.each([
  ['an unknown table', ['--table', 'itm'], 'there is no table itm; choose one of: item'],
  ['an unknown recipe', ['--table', 'item', '--recipe', 'x'], 'there is no recipe x; choose one of: derive-on-create'],
  ['a missing input', ['--table', 'item', '--recipe', 'validate'], 'Choose a value for "Field that must be filled"'],
  ['an unknown input', ['--table', 'item', '--recipe', 'validate', '--input', 'fild=x'], 'validate has no input fild'],
  ['an input that is no pair', ['--table', 'item', '--recipe', 'validate', '--input', 'x'], '--input takes name=value'],
])('%s is a wrong call, and nothing is written', (_, args, message) => {
  const { status, stderr } = run('new', 'hook', 'item-wrong', 'shop', ...args)
  expect([status, stderr]).toEqual([2, expect.stringContaining(message)])
  expect(existsSync(hookFile('item-wrong'))).toBe(false)
})

test('the list of recipes names each with its inputs', () => {
  const { stdout } = run('new', 'recipes')
  expect(stdout).toContain('copy-from-parent')
  expect(stdout).toContain('--input link=…')
})
