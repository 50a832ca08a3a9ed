import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { basename, dirname, join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { filesOf, hook, number, text } from '../../core/test/world.js'
import { watching } from './watching.js'

/** `test` with what changed, with a folder that is watched, and with coverage. */

const cli = join(import.meta.dirname, '../bin/patient-hook.js')
let folder: string
const run = (...args: string[]) => spawnSync('node', [cli, ...args], { encoding: 'utf8', cwd: folder })
const git = (...args: string[]) =>
  spawnSync('git', ['-c', 'user.name=ada', '-c', 'user.email=ada@example.org', ...args], { encoding: 'utf8', cwd: folder })
const write = (file: string, body: string) => {
  mkdirSync(dirname(join(folder, file)), { recursive: true })
  writeFileSync(join(folder, file), body)
}

const LOT = hook(`{ table: 'lot', moment: 'before-save', each(row) {
    if (row.now.gross === 13) row.refuse('gross', 'not today')
    row.now.net = (row.now.gross ?? 0) - 1
  } }`)
const testOf = (table: string, net: number) =>
  `import { test, expect } from 'patient-hook/test'\ntest('${table} has a net', ({ save }) => expect(save('${table}', { gross: 5 }).net).toBe(${net}))\n`

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'cli-test-'))
  const fields = { gross: number, net: number, note: text }
  const files = filesOf({
    tables: { lot: { fields }, tin: { fields } },
    hooks: { 'lot-net': LOT, 'tin-net': LOT.replace("'lot'", "'tin'") },
    tests: { lots: testOf('lot', 4), tins: testOf('tin', 4) },
  })
  for (const [file, body] of files) write(file, body)
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

test('--changed runs the differences from a commit of git may concern; without git it says so', () => {
  const none = run('test', '.', '--changed')
  expect([none.status, none.stderr]).toEqual([2, expect.stringMatching(/--changed HEAD: git cannot say what changed: /)])
  git('init', '-q')
  git('add', '-A')
  git('commit', '-q', '-m', 'first')
  expect(run('test', '.', '--changed').stdout).toMatch(/No test is affected[^]*0 passed, 0 failed/)
  write('plugins/p/hooks/tin-net.ts', LOT.replace("'lot'", "'tin'").replace('- 1', '- 2'))
  const one = run('test', '.', '--changed')
  expect([one.status, one.stdout]).toEqual([1, expect.stringMatching(/FAIL .*tins\.test\.ts[^]*0 passed, 1 failed/)])
  write('plugins/p/tests/tins.test.ts', testOf('tin', 3))
  git('add', '-A')
  git('commit', '-q', '-m', 'second')
  write('plugins/p/tests/new.test.ts', testOf('lot', 4).replace('has', 'still has'))
  expect(run('test', '.', '--changed').stdout).toMatch(/new\.test\.ts[^]*1 passed, 0 failed/)
  expect(run('test', '.', '--changed', 'HEAD~1').stdout).toMatch(/2 passed, 0 failed/)
})

test('--coverage tells what no test ran, for people, for programs and as LCOV', () => {
  const people = run('test', '.', '--coverage', '--lcov', 'lcov.info')
  expect(people.stdout).toMatch(/lot-net +66 % 2\/3 .*not run: lines 3, 4/)
  expect(people.stdout).toMatch(/\nall +\d+ %/)
  const { coverage } = JSON.parse(run('test', '.', '--coverage', '--json').stdout) as { coverage: { hooks: object } }
  expect(coverage.hooks).toMatchObject({
    'lot-net': { statements: { covered: 2, total: 3 }, branches: { covered: 2, total: 4 } },
  })
  expect(run('test', '.', '--lcov', 'x')).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('--lcov requires --coverage'),
  })
  // Build servers read paths from where the command ran, which may be above the project.
  const runAbove = (...args: string[]) => spawnSync('node', [cli, ...args], { encoding: 'utf8', cwd: dirname(folder) })
  const lcov = runAbove('test', basename(folder), '--coverage', '--lcov', join(folder, 'lcov.info'))
  expect(lcov.status).toBe(0)
  expect(readFileSync(join(folder, 'lcov.info'), 'utf8')).toContain(`SF:${basename(folder)}/plugins/p/hooks/lot-net.ts`)
  const junit = runAbove('test', basename(folder), '--reporter', 'junit')
  expect(junit.stdout).toContain(`file="${basename(folder)}/plugins/p/tests/`)
  expect(run('test', '.', '--coverage', '--lcov', 'project.json/x').stderr).toContain('--lcov project.json/x cannot be written')
})

test('--watch runs again what a change may concern, tells what is wrong, and goes on', { timeout: 120_000 }, async () => {
  const { until, end } = watching(folder, 'test', '.')
  await until(/3 passed, 0 failed[^]*Watching the folder/)
  write('plugins/p/hooks/lot-net.ts', LOT.replace('- 1', '- 3'))
  expect(await until(/\d+ passed, \d+ failed/)).toMatch(/changed: plugins\/p\/hooks\/lot-net\.ts[^]*0 passed, 2 failed/)
  write('plugins/p/hooks/lot-net.ts', LOT.replace('each(row) {', 'each(row {'))
  expect(await until(/lot-net\.ts, line \d+|lot-net\.ts:\d+/)).not.toMatch(/passed/)
  // What could not run then runs with the next change.
  write('plugins/p/tests/tins.test.ts', testOf('tin', 4))
  await until(/changed: plugins\/p\/tests\/tins\.test\.ts/)
  write('plugins/p/hooks/lot-net.ts', LOT)
  expect(await until(/\d+ passed, \d+ failed/)).toMatch(/FAIL .*tins\.test\.ts[^]*2 passed, 1 failed/)
  expect(await end()).toBe(1)
})

test('where nobody reads on, the rest runs still, and the exit code is that of all of it', () => {
  write('plugins/p/tests/last.test.ts', testOf('tin', 99))
  const script = `set -o pipefail; node ${JSON.stringify(cli)} test . | head -1; exit "\${PIPESTATUS[0]}"`
  const { status, stdout } = spawnSync('bash', ['-c', script], { encoding: 'utf8', cwd: folder })
  expect([status, stdout.split('\n').length]).toEqual([1, 2])
  rmSync(join(folder, 'plugins/p/tests/last.test.ts'))
})

test('a report is written into a folder that is made for it; where it cannot be, nothing runs', () => {
  expect(run('test', '.', '--reporter', 'tap', '--out', 'made/for/it.tap').stdout).toContain('passed')
  expect(readFileSync(join(folder, 'made/for/it.tap'), 'utf8')).toContain('TAP version 14')
  mkdirSync(join(folder, 'taken'), { recursive: true })
  const taken = run('test', '.', '--reporter', 'tap', '--out', 'taken')
  expect([taken.status, taken.stdout, taken.stderr]).toEqual([2, '', expect.stringContaining('--out taken cannot be written')])
})

test.each([
  ['plugins/p/tests/late.spec.ts', 'plugins/<plugin>/tests/<name>.test.ts'],
  ['plugins/p/lib/late.test.ts', 'plugins/<plugin>/tests/'],
  ['plugins/p/hook/late.ts', 'plugins/p/hooks'],
  ['plugins/p/test/late.test.ts', 'plugins/p/tests'],
  ['plugins/p/late.ts', 'hooks, lib, tests'],
  ['plugins/p/hooks/late.js', 'end in .ts'],
  ['plugins/late.ts', 'A plugin is a folder'],
  ['tables/more/late.json', 'tables/<table>.json'],
  ['table/late.json', 'The folder is called tables'],
  ['fixtures/late.csv', 'fixtures/<set>/<table>.csv'],
  ['tests/late.test.ts', 'plugins/<plugin>/tests/'],
])('%s is no file that is left out without a word', (path, where) => {
  write(path, 'export const late = 1\n')
  const { status, stderr } = run('test', '.')
  rmSync(join(folder, path))
  expect([status, stderr]).toEqual([1, expect.stringContaining(`${path} is in a place where no file is read`)])
  expect(stderr).toContain(where)
})

test('what belongs to other tools is left alone', () => {
  const others = [
    'README.md',
    'plugins/p/README.md',
    'plugins/p/package.json',
    'tables/notes.md',
    'scripts/fill.ts',
    'types/x.d.ts',
  ]
  for (const path of others) write(path, '{}')
  expect(run('check', '.').stderr).not.toContain('no file is read')
  for (const path of others) rmSync(join(folder, path))
})

test('a project without tests says so', () => {
  const empty = mkdtempSync(join(tmpdir(), 'cli-none-'))
  writeFileSync(join(empty, 'project.json'), '{}')
  const none = run('test', empty)
  expect([none.status, none.stderr]).toEqual([1, expect.stringContaining('the project has no unit tests')])
  expect(run('test', empty, '--allow-none').status).toBe(0)
  rmSync(empty, { recursive: true })
})
