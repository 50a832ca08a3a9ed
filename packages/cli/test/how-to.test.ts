import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'

/** The commands of docs/how-to.md, run one after another as they are printed. */

const root = join(import.meta.dirname, '../../..')
let folder: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'how-to-'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

test('every command succeeds', { timeout: 400_000 }, () => {
  const blocks = [...readFileSync(join(root, 'docs/how-to.md'), 'utf8').matchAll(/^```sh\n([\s\S]*?)^```$/gm)].map(
    ([, code]) => code!,
  )
  expect(blocks.length).toBeGreaterThan(8)
  // The command of this repository, wherever the example runs.
  const npx = `npx() { shift; node ${JSON.stringify(join(root, 'packages/cli/bin/patient-hook.js'))} "$@"; }`
  const { status, stdout, stderr } = spawnSync('bash', ['-euo', 'pipefail', '-c', [npx, ...blocks].join('\n')], {
    cwd: folder,
    encoding: 'utf8',
    env: { ...process.env, DEMO: join(root, 'demo') },
  })
  expect([status, stderr]).toEqual([0, ''])
  expect(stdout).toMatch(/1 passed, 0 failed/)
  expect(stdout).toMatch(/vault 1\.0\.0 → 1\.1\.0: released to ines/)
  expect(existsSync(join(folder, 'sites.csv'))).toBe(true)
})
