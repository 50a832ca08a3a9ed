// Runs every check and adds up what the runners say. Exit code 0 only when nothing failed.
// --quick: types, style, docs and the core's tests without those that take long; no browser.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const quick = process.argv.includes('--quick')
/** Tests of the core that kill processes or look for long. */
const LONG = ['**/faults.test.ts', '**/oracle/**', '**/loading.test.ts', '**/definition.test.ts']
const folder = mkdtempSync(join(tmpdir(), 'patient-hook-check-'))
let passed = 0
let failed = 0

function run(title, command, args, env = {}) {
  console.log(`\n== ${title}`)
  return spawnSync(command, args, { stdio: 'inherit', env: { ...process.env, ...env } }).status === 0
}

/** A check that is one thing: it counts as one test. */
function single(title, command, args) {
  if (run(title, command, args)) passed++
  else failed++
}

/** A test runner, whose own report is counted. A runner that ends badly without a failed test counts as one. */
function counted(title, command, args, env, count) {
  const well = run(title, command, args, env)
  let found = { passed: 0, failed: 0 }
  try {
    found = count()
  } catch (error) {
    console.error(`no report of ${title}: ${error.message}`)
    found = { passed: 0, failed: 1 }
  }
  if (!well && found.failed === 0) found.failed = 1
  if (found.passed + found.failed === 0) found.failed = 1
  passed += found.passed
  failed += found.failed
}

const json = (name) => JSON.parse(readFileSync(join(folder, name), 'utf8'))

single('types', 'npm', ['run', '--silent', 'types'])
single('lint', 'npx', ['eslint', '.', '--max-warnings', '0'])
single('format', 'npx', ['prettier', '--check', '.', '--log-level', 'warn'])
single('words', 'node', ['scripts/check-words.mjs'])
single('the docs made from code', 'node', ['scripts/make-docs.mjs', '--check'])
counted(
  'unit tests',
  'npx',
  [
    'vitest',
    'run',
    ...(quick ? ['packages/core', 'packages/web', ...LONG.flatMap((each) => ['--exclude', each])] : []),
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${join(folder, 'unit.json')}`,
  ],
  {},
  () => {
    const { numPassedTests, numFailedTests, numFailedTestSuites, testResults } = json('unit.json')
    const broken = testResults.filter(
      (file) => file.status === 'failed' && file.assertionResults.every((each) => each.status !== 'failed'),
    ).length
    return { passed: numPassedTests, failed: numFailedTests + (numFailedTestSuites > 0 ? broken : 0) }
  },
)
if (!quick) {
  counted('the demo’s own tests', 'node', ['scripts/demo-tests.mjs', join(folder, 'demo.json')], {}, () => json('demo.json'))
  counted(
    'the interface in Chromium',
    'npx',
    ['playwright', 'test', '--config', 'e2e/playwright.config.ts'],
    { REPORT_FILE: join(folder, 'e2e.json') },
    () => {
      const { expected, unexpected, flaky } = json('e2e.json').stats
      return { passed: expected, failed: unexpected + flaky }
    },
  )
}
rmSync(folder, { recursive: true, force: true })
console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed > 0 ? 1 : 0)
