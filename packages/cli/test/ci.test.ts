import { spawnSync } from 'node:child_process'
import { cpSync, mkdtempSync, mkdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { XMLParser } from 'fast-xml-parser'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { filesOf, hook, number, text } from '../../core/test/world.js'

/**
 * The pipeline of docs/ci.md, run as it stands there on a copy of the demo; and what the gate of a release says. JUnit XML has no official
 * schema: what is looked for in it is common practice of the trade, read by fast-xml-parser.
 */

const root = join(import.meta.dirname, '../../..')
let folder: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'ci-'))
  cpSync(join(root, 'demo'), join(folder, 'demo'), { recursive: true })
  symlinkSync(join(root, 'node_modules'), join(folder, 'node_modules'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

test('the pipeline passes, and leaves its reports', () => {
  const [, script] = /```sh\n([\s\S]*?)```/.exec(readFileSync(join(root, 'docs/ci.md'), 'utf8'))!
  expect(script!.match(/npx patient-hook \w+/g)).toEqual(
    ['check', 'test', 'prove', 'release'].map((name) => `npx patient-hook ${name}`),
  )
  const { status, stdout, stderr } = spawnSync('bash', ['-c', script!], { encoding: 'utf8', cwd: folder })
  expect([status, stderr.replace(/^npm warn.*\n/gm, '')]).toEqual([0, ''])
  expect(stdout).toMatch(/all is well[^]*\d+ passed, 0 failed[^]*0 do not hold[^]*all \d+ checks passed/)
  const report = (name: string) => readFileSync(join(folder, 'reports', name), 'utf8')
  expect((JSON.parse(report('check.sarif')) as { version: string }).version).toBe('2.1.0')
  const { testsuites } = new XMLParser({ ignoreAttributes: false }).parse(report('tests.xml')) as {
    testsuites: Record<string, string>
  }
  expect(Number(testsuites['@_tests'])).toBeGreaterThan(50)
  expect(report('coverage.info')).toContain('SF:demo/plugins/vault/hooks/lot-mass.ts')
}, 600_000)

describe('the gate', () => {
  const cli = join(import.meta.dirname, '../bin/patient-hook.js')
  const run = (where: string, ...args: string[]) => {
    const { status, stdout, stderr } = spawnSync('node', [cli, 'release', where, '--dry', '--json', ...args], {
      encoding: 'utf8',
    })
    return { status, stderr, out: stdout }
  }
  const project = (name: string, code: string, body: string): string => {
    const where = join(folder, name)
    const files = filesOf({
      tables: { lot: { fields: { gross: number, net: number, note: text } } },
      hooks: { net: code },
      tests: { all: `import { test, expect } from 'patient-hook/test'\n${body}\n` },
      fixtures: {
        base: {
          lot: [
            { id: 1, gross: 5, net: 4 },
            { id: 2, gross: 7, net: 6 },
          ],
        },
      },
    })
    for (const [file, each] of files) {
      mkdirSync(join(where, file, '..'), { recursive: true })
      writeFileSync(join(where, file), each)
    }
    return where
  }
  const NET = hook(`{ table: 'lot', moment: 'before-save', each(row) { row.now.net = (row.now.gross ?? 0) - 1 } }`)
  const TEST = `test('net', { fixtures: 'base' }, ({ save }) => expect(save('lot', { id: 1, gross: 9 }).net).toBe(8))`

  test('says what it measured, and the next version', () => {
    const { status, out } = run(project('good', NET, TEST), '--plugin', 'p', '--bump', 'minor')
    const told = JSON.parse(out) as { gate: { what: string; holds: boolean }[] }
    expect([status, told]).toMatchObject([0, { plugin: 'p', from: '1.2.3', version: '1.3.0', kept: false }])
    expect(told.gate.map(({ what, holds }) => [what, holds])).toEqual(
      ['model', 'types', 'findings', 'tests', 'coverage', 'bulk'].map((what) => [what, true]),
    )
  })

  test('says of each part the problems with it, with file, line, test and property', () => {
    const code = NET.replace('export default', 'let last = 0\nexport default').replace(
      'row.now.net = (row.now.gross ?? 0) - 1',
      'last ||= row.now.gross ?? 0; row.now.net = last; if (last < 0) Date.now(); row.now.nte = 1',
    )
    const { status, out } = run(
      project('bad', code.replace('row.now.nte = 1', 'const wrong: string = last'), TEST),
      '--plugin',
      'p',
    )
    const { gate } = JSON.parse(out) as { gate: { what: string; holds: boolean; detail: string }[] }
    expect(status).toBe(1)
    const detail = Object.fromEntries(gate.map((each) => [each.what, [each.holds, each.detail]]))
    expect(detail).toEqual({
      model: [true, 'every hook finds its table and its fields'],
      coverage: [true, expect.stringMatching(/no earlier release to compare with/)],
      types: [false, expect.stringMatching(/^plugins\/p\/hooks\/net\.ts:\d+: .*TS2322/)],
      findings: [false, expect.stringContaining('clock-or-chance')],
      tests: [false, 'plugins/p/tests/all.test.ts: net failed'],
      bulk: [false, expect.stringContaining('net: batch-equals-singles does not hold')],
    })
  })

  test('wants a test of the plugin’s own, and a plugin that is there', () => {
    const { out } = run(project('untested', NET, `test.skip('later', () => {})`), '--plugin', 'p')
    expect(JSON.parse(out)).toMatchObject({
      gate: expect.arrayContaining([expect.objectContaining({ what: 'tests', holds: false })]),
    })
    expect(run(join(folder, 'good'), '--plugin', 'q')).toMatchObject({
      status: 2,
      out: expect.stringContaining('there is no plugin q'),
    })
    expect(run(join(folder, 'good'), '--plugin', 'p', '--bump', 'huge').status).toBe(2)
  })
})
