import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'

/** The project that docs/hooks.md shows file by file is a project: it passes check and test as it is printed. */

const cli = join(import.meta.dirname, '../bin/patient-hook.js')
function run(...args: string[]) {
  const { status, stdout } = spawnSync('node', [cli, ...args], { encoding: 'utf8' })
  return { code: status, out: stdout }
}

let folder: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'docs-'))
  const text = readFileSync(join(import.meta.dirname, '../../../docs/hooks.md'), 'utf8')
  const section = text.slice(text.indexOf('## A complete project'))
  const files = [...section.matchAll(/^`([\w./-]+)`\n\n```\w+\n([\s\S]*?)^```$/gm)]
  expect(files.length).toBeGreaterThan(10)
  for (const [, path, body] of files) {
    mkdirSync(dirname(join(folder, path!)), { recursive: true })
    writeFileSync(join(folder, path!), body!)
  }
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

test('it passes check without a finding', () => {
  const { code, out } = run('check', folder, '--json')
  expect(JSON.parse(out)).toMatchObject({ findings: [], types: [] })
  expect(code).toBe(0)
})

test('its tests pass', () => {
  const { code, out } = run('test', folder)
  expect(out).toMatch(/3 passed, 0 failed/)
  expect(code).toBe(0)
})

test('a hire is rehearsed on its first records', () => {
  const rows = join(folder, 'rows.json')
  writeFileSync(rows, JSON.stringify([{ table: 'hire', values: { boat: 2, from: '2026-03-01', days: 2 } }]))
  const { code, out } = run('rehearse', folder, '--save', rows)
  expect(out).toMatch(/price: null → 17/)
  expect(out).toMatch(/boat 2: update \(ripple, depth 1\)/)
  expect(code).toBe(0)
})
