// The demo's tests through the command line, as a user runs them; writes { passed, failed } to the file it is given.
import { spawnSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'

const cli = 'packages/cli/bin/patient-hook.js'
const check = spawnSync('node', [cli, 'check', 'demo'], { stdio: 'inherit' })
const tests = spawnSync('node', [cli, 'test', 'demo', '--json'], { encoding: 'utf8', maxBuffer: 64e6 })
const { passed = 0, failed = 1, tests: all = [] } = JSON.parse(tests.stdout || '{}')
for (const each of all) if (each.status === 'failed') console.log(`FAIL ${each.file}: ${each.name}\n${each.error?.message}`)
writeFileSync(
  process.argv[2],
  JSON.stringify({ passed: passed + (check.status === 0 ? 1 : 0), failed: failed + (check.status === 0 ? 0 : 1) }),
)
console.log(`${passed} passed, ${failed} failed`)
process.exit(tests.status === 0 && check.status === 0 ? 0 : 1)
