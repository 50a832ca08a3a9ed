import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { readFolder } from '@patient-hook/core'
import { makeRuntime, runTests, sealIntrinsics } from '@patient-hook/core/internals'
import { median } from './median.js'

/**
 * What unit tests cost: node dist/tests.js [ROUNDS].
 * - The fixture state of a test: tests that save nothing on a set of 500 lots and what they link to (2,600 records), against tests without
 *   a set; both in one file, in turn. The first of a set loads it, and is reported separately.
 * - A project of 1,000 small tests, and the demo, by the command line, from its start to its end; medians, with the processor time.
 */
const rounds = Number(process.argv[2] ?? 5)
const demo = join(import.meta.dirname, '../../demo')
const cli = join(import.meta.dirname, '../../packages/cli/bin/patient-hook.js')

sealIntrinsics()
const PAIRS = 300
const empty = [
  `import { test, expect } from 'patient-hook/test'`,
  `for (let i = 0; i < ${PAIRS}; i++) {`,
  `  test('on a set ' + i, { fixtures: 'vault' }, ({ get }) => expect(get('lot', 1)?.id).toBe(1))`,
  `  test('on none ' + i, ({ rows }) => expect(rows('lot')).toEqual([]))`,
  `}\n`,
].join('\n')
const file = 'plugins/vault/tests/bench.test.ts'
const runtime = makeRuntime(new Map([...readFolder(demo), [file, empty]]))
const results = runTests(runtime, (each) => each === file)
const wrong = results.find(({ status }) => status !== 'passed')
if (wrong) throw new Error(`${wrong.name}: ${wrong.error?.message}`)
const times = (word: string) => results.filter(({ name }) => name.startsWith(word)).map(({ ms }) => ms)
const [first, ...rest] = times('on a set')
console.log('| a test that does nothing | ms |\n|---|---|')
console.log(`| the first on a set of 500 lots | ${first!.toFixed(1)} |`)
console.log(`| another on it, median | ${median(rest).toFixed(2)} |`)
console.log(`| on no set, median | ${median(times('on none')).toFixed(2)} |`)

/** A table, a hook, and 20 files of 50 tests. */
function thousand(): string {
  const folder = mkdtempSync(join(tmpdir(), 'thousand-tests-'))
  const write = (path: string, text: string) => {
    mkdirSync(dirname(join(folder, path)), { recursive: true })
    writeFileSync(join(folder, path), text)
  }
  write('project.json', '{}')
  write('tables/lot.json', JSON.stringify({ type: 'object', properties: { gross: { type: 'number' }, net: { type: 'number' } } }))
  write('plugins/p/plugin.json', '{}')
  write(
    'plugins/p/hooks/lot-net.ts',
    `import { defineHook } from 'patient-hook'\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { row.now.net = (row.now.gross ?? 0) - 1 } })\n`,
  )
  write('fixtures/base/lot.json', JSON.stringify(Array.from({ length: 50 }, (_, index) => ({ id: index + 1, gross: index }))))
  for (let part = 0; part < 20; part++) {
    const tests = Array.from(
      { length: 50 },
      (_, index) =>
        `test('lot ${index}', { fixtures: 'base' }, ({ save }) => expect(save('lot', { id: ${index + 1}, gross: ${part + 5} }).net).toBe(${part + 4}))`,
    )
    write(`plugins/p/tests/part-${part}.test.ts`, `import { test, expect } from 'patient-hook/test'\n${tests.join('\n')}\n`)
  }
  return folder
}

/** Seconds from start to end, and of the processor, with all that it started. */
function command(folder: string): { wall: number; cpu: number } {
  const script = `const { spawnSync } = require('node:child_process'); const t = performance.now(); const { status } = spawnSync(process.execPath, [process.argv[1], 'test', process.argv[2]], { stdio: 'ignore' }); const wall = performance.now() - t; require('node:fs').writeSync(1, JSON.stringify({ status, wall }))`
  const timed = spawnSync('bash', ['-c', `TIMEFORMAT='%U %S'; time node -e "$0" "$1" "$2"`, script, cli, folder], {
    encoding: 'utf8',
  })
  const { status, wall } = JSON.parse(timed.stdout) as { status: number; wall: number }
  if (status !== 0) throw new Error(`test ${folder} ended with ${status}`)
  const [user, system] = timed.stderr.trim().split('\n').at(-1)!.split(' ').map(Number)
  return { wall: wall / 1000, cpu: user! + system! }
}

const folder = thousand()
try {
  console.log('\n| `patient-hook test`, cold | seconds | of the processor |\n|---|---|---|')
  for (const [name, of] of [
    ['1,000 small tests in 20 files', folder],
    ['the demo', demo],
  ] as const) {
    const runs = Array.from({ length: rounds }, () => command(of))
    console.log(
      `| ${name} | ${median(runs.map(({ wall }) => wall)).toFixed(1)} | ${median(runs.map(({ cpu }) => cpu)).toFixed(1)} |`,
    )
  }
} finally {
  rmSync(folder, { recursive: true, force: true })
}
