import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { afterAll, expect, test } from 'vitest'

/** docs/tutorial.md works as it is printed: its files are written and its commands run, in order. */

const cli = join(import.meta.dirname, '../bin/patient-hook.js')
const text = readFileSync(join(import.meta.dirname, '../../../docs/tutorial.md'), 'utf8')
const base = mkdtempSync(join(tmpdir(), 'tutorial-'))
afterAll(() => rmSync(base, { recursive: true, force: true }))

test('every file and every command of the tutorial', { timeout: 120_000 }, () => {
  let folder = base
  const said: string[] = []
  for (const [, path, language, body] of text.matchAll(/(?:^`([\w./-]+)`\n\n)?^```(\w+)\n([\s\S]*?)^```$/gm)) {
    if (path) {
      mkdirSync(dirname(join(folder, path)), { recursive: true })
      writeFileSync(join(folder, path), body!)
    } else if (language === 'sh')
      for (const line of body!.trim().split('\n')) {
        const [command, ...args] = line.split(' ')
        if (command === 'cd') folder = join(folder, args[0]!)
        else if (command === 'rm') for (const file of args) rmSync(join(folder, file))
        else {
          const { status, stdout, stderr } = spawnSync('node', [cli, ...args.slice(1)], { encoding: 'utf8', cwd: folder })
          expect([line, status, stderr]).toEqual([line, 0, ''])
          said.push(stdout)
        }
      }
  }
  expect(said.some((each) => each.includes('all is well'))).toBe(true)
  expect(said.some((each) => each.includes('4 passed, 0 failed'))).toBe(true)
  expect(said.at(-1)).toMatch(/price: null → 5\.25/)
  expect(said.at(-1)).toMatch(/tool 2: update \(ripple, depth 1\)/)
})
