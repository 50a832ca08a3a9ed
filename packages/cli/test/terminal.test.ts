import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { filesOf, number } from '../../core/test/world.js'
import { program } from '../src/program.js'

/** What people see in a terminal: colours, the place of a failure, a summary, completion and help. */

const cli = join(import.meta.dirname, '../bin/patient-hook.js')
let folder: string
const run = (args: string[], env: Record<string, string> = {}) =>
  spawnSync('node', [cli, ...args], { encoding: 'utf8', cwd: folder, env: { PATH: process.env['PATH'], ...env } })

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'terminal-'))
  const tests = `import { test, expect } from 'patient-hook/test'
test('holds', ({ save }) => expect(save('lot', { gross: 5 }).gross).toBe(5))
test('fails', ({ save }) => {
  const lot = save('lot', { gross: 5 })
  expect(lot.gross).toBe(6)
})
`
  for (const [file, text] of filesOf({ tables: { lot: { fields: { gross: number } } }, tests: { lots: tests } })) {
    mkdirSync(dirname(join(folder, file)), { recursive: true })
    writeFileSync(join(folder, file), text)
  }
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const ESCAPE = '\u001B['

test('a pipe gets no colours; they are forced and forbidden by the usual variables and --no-color', () => {
  expect(run(['test']).stdout).not.toContain(ESCAPE)
  expect(run(['test'], { FORCE_COLOR: '1' }).stdout).toContain(`${ESCAPE}32mok  `)
  expect(run(['test', '--no-color'], { FORCE_COLOR: '1' }).stdout).not.toContain(ESCAPE)
  expect(run(['--no-color', 'test'], { FORCE_COLOR: '1' }).stdout).not.toContain(ESCAPE)
  expect(run(['test'], { FORCE_COLOR: '1', NO_COLOR: '1' }).stdout).not.toContain(ESCAPE)
})

test('a failed test shows its code, and the summary ends in the counts', () => {
  const { status, stdout } = run(['test'])
  expect(status).toBe(1)
  expect(stdout).toMatch(
    / {3}3 \| test\('fails'[^\n]*\n {9}4 \|[^\n]*\n {7}> 5 \| {3}expect\(lot\.gross\)\.toBe\(6\)\n {9}6 \| \}\)/,
  )
  expect(stdout).toMatch(/\n1 file, 2 tests, [\d.]+ m?s\n1 passed, 1 failed\n$/)
})

describe('completion', () => {
  const complete = (...words: string[]): string[] => {
    const script = `source <(node ${cli} completion bash); COMP_WORDS=(patient-hook ${words.map((word) => `'${word}'`).join(' ')})
      COMP_CWORD=${words.length}; _patient_hook; printf '%s\\n' "\${COMPREPLY[@]}"`
    return spawnSync('bash', ['-c', script], { encoding: 'utf8', cwd: folder }).stdout.trim().split('\n')
  }

  // Bash itself runs the script.
  test('completes commands, commands within commands, options and files', () => {
    expect(complete('ad')).toEqual(['adopt'])
    expect(complete('new', 're')).toEqual(['recipes'])
    expect(complete('test', '--ch')).toEqual(['--changed'])
    expect(complete('test', 'proj')).toEqual(['project.json'])
  })

  test('an unknown shell is named', () => {
    expect(run(['completion', 'abc'])).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('there is one for bash, zsh, fish'),
    })
  })
})

test('examples in the help use options that exist', () => {
  for (const command of program.commands) {
    let help = ''
    command.configureOutput({ writeOut: (part) => (help += part) }).outputHelp()
    const examples = /Examples?:\n([^]*)/.exec(help)?.[1] ?? ''
    const known = command.options.map(({ long }) => long)
    for (const [option] of examples.matchAll(/(?<= )--[a-z-]+/g))
      expect([...known, '--table', '--recipe', '--input'], `${command.name()}: ${option}`).toContain(option)
  }
})
