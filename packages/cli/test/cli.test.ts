import { spawnSync } from 'node:child_process'
import { mkdtempSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import Ajv from 'ajv-draft-04'
import addFormats from 'ajv-formats'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { BULK_PROPERTIES } from '@patient-hook/contract'
import { filesOf, hook, integer, link, text } from '../../core/test/world.js'

/** The command line as a user and as a program calls it. */

const cli = join(import.meta.dirname, '../bin/patient-hook.js')
let folder: string

const run = (args: string[], input?: string) => {
  const { status, stdout, stderr } = spawnSync('node', [cli, ...args], { encoding: 'utf8', input, cwd: folder })
  return { status, stdout, stderr }
}

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'cli-'))
  const files = filesOf({
    project: { users: ['ada', 'bo'] },
    tables: {
      lot: { fields: { default_pack: integer } },
      line: { fields: { lot: link('lot'), seeds: { ...integer, maximum: 500 }, note: text } },
    },
    states: { 'line-default-seeds': { pilot: ['ada'] } },
    hooks: {
      'line-default-seeds': hook(`{
  table: 'line',
  moment: 'before-save',
  on: ['create'],
  watch: ['lot'],
  only: (row) => row.now.seeds === null,
  load: ({ rows, store }) => store.byId('lot', rows.map((row) => row.now.lot), ['default_pack']),
  each(row, lots, { log }) {
    row.now.seeds = lots.get(row.now.lot)?.default_pack ?? null
    log('took', row.now.seeds)
  },
}`),
    },
    tests: {
      line: `import { test, expect } from 'patient-hook/test'
test('an empty quantity comes from the lot', { fixtures: 'base', user: 'ada' }, ({ save, ran }) => {
  expect(save('line', { lot: 2 }).seeds).toBe(250)
  expect(ran('line-default-seeds')).toBe(1)
})
test('is wrong on purpose', { fixtures: 'base' }, ({ save }) => {
  expect(save('line', { lot: 2 }).seeds).toBe(1)
})
test.skip('later', () => {})
`,
    },
    fixtures: {
      base: {
        lot: [
          { id: 1, default_pack: 100 },
          { id: 2, default_pack: 250 },
        ],
      },
    },
  })
  for (const [path, body] of files) {
    mkdirSync(dirname(join(folder, path)), { recursive: true })
    writeFileSync(join(folder, path), body)
  }
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

test('test ends in the counts and exits 1 when one failed', () => {
  const { status, stdout } = run(['test'])
  expect(stdout.trim().split('\n').at(-1)).toBe('1 passed, 1 failed, 1 skipped')
  expect(stdout).toContain('plugins/p/tests/line.test.ts:7')
  expect(status).toBe(1)
  const { tests, passed } = JSON.parse(run(['test', folder, '--json']).stdout) as {
    passed: number
    tests: { error: object | null }[]
  }
  expect(passed).toBe(1)
  expect(tests[1]!.error).toMatchObject({ code: 'test/failed', expected: '1', received: '250', line: 7 })
})

test('a failed test tells what its saves did', () => {
  const { tests } = JSON.parse(run(['test', '--json']).stdout) as {
    tests: { verdicts?: object[]; lookups?: object[]; logs?: object[] }[]
  }
  expect(tests[0]).not.toHaveProperty('verdicts')
  // Its hook is piloted for ada, and the test saves as somebody else.
  expect(tests[1]!.verdicts).toContainEqual(expect.objectContaining({ hook: 'line-default-seeds', verdict: 'ran' }))
  expect(tests[1]!.lookups).toContainEqual(expect.objectContaining({ table: 'lot', found: 1 }))
  expect(tests[1]!.logs).toContainEqual(expect.objectContaining({ text: expect.stringContaining('250') as unknown }))
})

test('test --filter, --reporter and --out', () => {
  expect(run(['test', '--filter', 'an empty quantity']).stdout.trim().split('\n').at(-1)).toBe('1 passed, 0 failed')
  const none = run(['test', '--filter', 'no such test'])
  expect([none.status, none.stderr]).toEqual([2, expect.stringContaining('no test has it in its file or name')])
  const tap = run(['test', '--reporter', 'tap'])
  expect(tap.stdout).toMatch(/^TAP version 14\n1\.\.3\nok 1 /)
  expect(tap.status).toBe(1)
  const file = join(folder, 'report.xml')
  const junit = run(['test', '--reporter', 'junit', '--out', file])
  expect(junit.stdout).toContain('1 passed, 1 failed, 1 skipped')
  expect(readFileSync(file, 'utf8')).toMatch(/<testsuites tests="3" failures="1" errors="0" skipped="1">/)
  expect(run(['test', '--reporter', 'html']).status).toBe(2)
  expect(run(['test', '--out', 'x']).status).toBe(2)
  expect(run(['test', '--reporter', 'tap', '--out', join(folder, 'project.json', 'x')]).status).toBe(2)
})

test('prove: what holds, what does not, and what is called wrongly', () => {
  const { status, stdout } = run(['prove', '--only', 'bulk', '--hook', 'line-default-seeds', '--json', '--seed', '3'])
  const told = JSON.parse(stdout) as { bulk: { hooks: Record<string, Record<string, { holds: boolean }>> }; seed: number }
  expect(Object.keys(told.bulk.hooks['line-default-seeds']!).sort()).toEqual([...BULK_PROPERTIES].sort())
  expect(Object.values(told.bulk.hooks['line-default-seeds']!).filter(({ holds }) => !holds)).toEqual([])
  expect([status, told.seed]).toEqual([0, 3])
  for (const wrong of [
    ['--hook', 'nobody'],
    ['--seed', 'x'],
    ['--only', 'luck'],
    ['--budget', '-1'],
  ]) {
    const { status: code, stderr } = run(['prove', ...wrong])
    expect([wrong, code]).toEqual([wrong, 2])
    expect(stderr).not.toBe('')
  }
})

test('prove --only mutation: what tests notice of mutations', () => {
  const { stdout } = run(['prove', '--only', 'mutation', '--json'])
  const { mutation } = JSON.parse(stdout) as {
    mutation: { hooks: Record<string, { caught: number; missed: number }>; missed: { hook: string; shows: string }[] }
  }
  const { caught, missed } = mutation.hooks['line-default-seeds']!
  expect(caught).toBeGreaterThan(0)
  expect(mutation.missed).toHaveLength(missed)
  for (const each of mutation.missed)
    expect(each).toMatchObject({ hook: 'line-default-seeds', shows: expect.any(String) as unknown })
})

test('rehearse --json prints what happened and keeps nothing', () => {
  const rows = JSON.stringify([
    { table: 'line', values: { lot: 2 } },
    { table: 'line', values: { lot: null } },
  ])
  const { status, stdout } = run(['rehearse', '--fixtures', 'base', '--user', 'ada', '--save', '-', '--json'], rows)
  expect(status).toBe(0)
  const out = JSON.parse(stdout) as Record<string, unknown[]>
  expect(out['rows']![0]).toMatchObject({
    table: 'line',
    id: 1,
    event: 'create',
    was: null,
    now: { id: 1, lot: 2, seeds: 250, note: null },
  })
  expect((out['rows']![0] as { changes: unknown[] }).changes).toEqual([
    { field: 'lot', from: null, to: 2, by: 'typed', kind: 'typed' },
    {
      field: 'seeds',
      from: null,
      to: 250,
      by: 'line-default-seeds',
      kind: 'hook',
      at: { file: 'plugins/p/hooks/line-default-seeds.ts', line: 10 },
    },
  ])
  expect(out['verdicts']).toMatchObject([
    { hook: 'line-default-seeds', id: 1, depth: 0, verdict: 'ran', reason: '' },
    { hook: 'line-default-seeds', id: 2, verdict: 'skipped', reason: 'no value in lot' },
  ])
  expect(out['logs']).toMatchObject([{ text: 'took 250' }])
  expect(out['spent']).toMatchObject({ queries: 1, rowsRead: 1, rowsWritten: 2, ripples: 0 })
  expect(out).not.toHaveProperty('error')
})

test('a refused rehearsal has an error with its place and exits 1', () => {
  const { status, stdout } = run(
    ['rehearse', '.', '--fixtures', 'base', '--save', '-', '--json'],
    JSON.stringify([{ table: 'line', values: { seeds: 501 } }]),
  )
  expect(status).toBe(1)
  expect((JSON.parse(stdout) as { error: object }).error).toMatchObject({
    code: 'check/bounds',
    table: 'line',
    row: 1,
    field: 'seeds',
  })
})

test('check says types and traps, and writes SARIF 2.1.0', () => {
  expect(run(['check']).status).toBe(0)
  const file = join(folder, 'plugins/p/hooks/line-default-seeds.ts')
  const before = readFileSync(file, 'utf8')
  writeFileSync(
    file,
    before
      .replace("watch: ['lot']", "watch: ['lot', 'lot']")
      .replace('row.now.lot)?.', 'row.now.lot)!.')
      .replace('const', 'const'),
  )
  const { status, stdout } = run(['check', '.', '--sarif', 'out.sarif'])
  expect(status).toBe(1)
  expect(stdout).toMatch(/line-default-seeds\.ts:6:\d+: warning: lot is watched already \(unused-watch\)/)
  expect(stdout).toMatch(/error: lots\.get\(row\.now\.lot\) may be undefined/)
  const sarif = JSON.parse(readFileSync(join(folder, 'out.sarif'), 'utf8')) as {
    version: string
    runs: { results: { ruleId: string; fixes?: unknown[] }[] }[]
  }
  expect(sarif.version).toBe('2.1.0')
  // The schema of the SARIF 2.1.0 standard (OASIS), as @microsoft/jest-sarif ships it.
  const schemaFile = createRequire(import.meta.url).resolve('@microsoft/jest-sarif/lib/schemas/sarif-2.1.0-rtm.5.json')
  const ajv = addFormats.default(new Ajv({ allErrors: true, strict: false, unicodeRegExp: false }))
  const valid = ajv.validate(JSON.parse(readFileSync(schemaFile, 'utf8')) as object, sarif)
  expect(ajv.errorsText()).toBe('No errors')
  expect(valid).toBe(true)
  expect(sarif.runs[0]!.results.map((each) => each.ruleId)).toEqual(['unused-watch', 'link-may-be-null'])
  expect(sarif.runs[0]!.results.every((each) => each.fixes?.length === 1)).toBe(true)
  writeFileSync(file, before)
})

test.each([
  [['nonsense'], 2],
  [['rehearse'], 2],
  [['test', '/nowhere'], 2],
  [['test', '--nonsense'], 2],
  [['--help'], 0],
  [['test', '--help'], 0],
])('%j exits %i', (args, code) => {
  expect(run(args).status).toBe(code)
})

test('an unknown fixture set is named with a hint', () => {
  const { status, stderr } = run(['rehearse', '.', '--fixtures', 'bse', '--save', '-'], '[{"table":"line","values":{}}]')
  expect(status).toBe(1)
  expect(stderr).toContain('There is no fixture set bse; did you mean base?')
})

test('anyone who reads no further gets no error', () => {
  const { stderr } = spawnSync('sh', ['-c', `node '${cli}' check '${folder}' | true`], { encoding: 'utf8' })
  expect(stderr).toBe('')
})
