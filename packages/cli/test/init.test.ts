import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { watching } from './watching.js'

/** A new project, what editors need beside it, and a folder that is checked while it is written. */

const cli = join(import.meta.dirname, '../bin/patient-hook.js')
const tsc = createRequire(import.meta.url).resolve('typescript/bin/tsc')
let base: string
let folder: string
const run = (...args: string[]) => spawnSync('node', [cli, ...args], { encoding: 'utf8', cwd: base })
const write = (file: string, text: string) => writeFileSync(join(folder, file), text)
const read = (file: string) => readFileSync(join(folder, file), 'utf8')
/** TypeScript's own compiler, as an editor would use it, without anything of ours. */
const compile = () => spawnSync('node', [tsc, '-p', folder], { encoding: 'utf8' })

beforeAll(() => {
  base = mkdtempSync(join(tmpdir(), 'init-'))
  folder = join(base, 'shop')
  expect(run('init', 'shop')).toMatchObject({
    status: 0,
    stdout: expect.stringContaining('wrote plugins/main/hooks/item-total.ts'),
  })
})
afterAll(() => rmSync(base, { recursive: true, force: true }))

test('a new project passes check, test, and the proof that its tests notice mutations', { timeout: 120_000 }, () => {
  expect(run('check', 'shop')).toMatchObject({ status: 0, stdout: '1 table, 1 hook: all is well\n' })
  expect(run('test', 'shop').stdout).toMatch(/3 passed, 0 failed/)
  const proved = run('prove', 'shop')
  expect([proved.status, proved.stdout]).toEqual([0, expect.stringMatching(/0 do not hold[^]*0 missed/)])
})

test('nothing is written where something is', () => {
  const before = read('project.json')
  const again = run('init', 'shop')
  expect([again.status, again.stderr]).toEqual([2, expect.stringContaining('shop/project.json already exists')])
  expect(read('project.json')).toBe(before)
})

test('a folder with files gets a project beside them, and none of them is lost', () => {
  const own = join(base, 'own')
  const put = (file: string, text: string) => writeFileSync(join(own, file), text)
  const get = (file: string) => readFileSync(join(own, file), 'utf8')
  mkdirSync(own)
  put(
    'package.json',
    '{\n    "name": "own",\n    "scripts": { "test": "vitest" },\n    "devDependencies": { "vitest": "^4.0.0" }\n}\n',
  )
  put('.gitignore', 'node_modules/\n.patient-hook/')
  put('tsconfig.json', '{ "mine": true }')
  put('README.md', '# Own')
  const { status, stdout } = run('init', 'own')
  expect(status).toBe(0)
  expect(stdout).toContain('added reports/ to .gitignore')
  expect(stdout).toContain(
    'added to package.json: the script check, the script hooks:test, the script serve, the dependency patient-hook',
  )
  expect(stdout).toContain('kept tsconfig.json')
  expect(JSON.parse(get('package.json'))).toEqual({
    name: 'own',
    scripts: { test: 'vitest', check: 'patient-hook check', 'hooks:test': 'patient-hook test', serve: 'patient-hook serve' },
    devDependencies: { vitest: '^4.0.0', 'patient-hook': expect.stringMatching(/^\^\d/) },
  })
  expect(get('package.json')).toContain('\n    "name"')
  expect([get('tsconfig.json'), get('README.md'), get('.gitignore')]).toEqual([
    '{ "mine": true }',
    '# Own',
    'node_modules/\n.patient-hook/\nreports/\n',
  ])
  expect(run('test', 'own').stdout).toMatch(/3 passed, 0 failed/)
})

test('a package.json that cannot be read is reported before anything is written', () => {
  const broken = join(base, 'broken')
  mkdirSync(broken)
  writeFileSync(join(broken, 'package.json'), '[1]')
  expect(run('init', 'broken')).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('broken/package.json is not a JSON object'),
  })
  expect(readdirSync(broken)).toEqual(['package.json'])
})

test('TypeScript’s own compiler checks the hooks by the declarations; types follow the tables', { timeout: 60_000 }, () => {
  expect(compile()).toMatchObject({ status: 0, stdout: '' })
  const hook = read('plugins/main/hooks/item-total.ts')
  write('plugins/main/hooks/item-total.ts', hook.replace('row.now.total =', 'row.now.sum ='))
  expect(compile().stdout).toMatch(/item-total\.ts\(\d+,\d+\): error TS\d+: .*'sum'/)
  write('tables/item.json', read('tables/item.json').replace('"total":', '"sum":'))
  const note = 'types/patient-hook.d.ts: not current with the tables and hooks; run patient-hook types shop'
  expect(run('types', 'shop', '--check')).toMatchObject({ status: 1, stdout: `${note}\n` })
  expect(run('types', 'shop').stdout).toBe('wrote types/patient-hook.d.ts\n')
  expect(run('types', 'shop').stdout).toBe('')
  expect(run('types', 'shop', '--check').status).toBe(0)
  expect(compile().stdout).not.toMatch(/item-total\.ts/)
  write('tables/item.json', read('tables/item.json').replace('"sum":', '"total":'))
  write('plugins/main/hooks/item-total.ts', hook)
  expect(run('check', 'shop')).toMatchObject({ status: 0, stdout: expect.stringContaining(note) })
  write('tsconfig.json', '{ "mine": true }')
  run('types', 'shop')
  expect(read('tsconfig.json')).toBe('{ "mine": true }')
})

test('--watch checks again after each change, and goes on when something is wrong', { timeout: 120_000 }, async () => {
  const { until, end } = watching(base, 'check', 'shop')
  const hook = read('plugins/main/hooks/item-total.ts')
  await until(/all is well[^]*Watching the folder/)
  write('plugins/main/hooks/item-total.ts', hook.replace('row.now.total', 'row.now.totl'))
  await until(/changed: plugins\/main\/hooks\/item-total\.ts[^]*totl[^]*1 hook: \d+ to fix/)
  write('tables/item.json', '{')
  await until(/tables\/item\.json[^]*1/)
  rmSync(join(folder, 'tables/item.json'))
  expect(existsSync(join(folder, 'tables/item.json'))).toBe(false)
  await until(/changed: tables\/item\.json/)
  expect(await end()).toBe(1)
})
