import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { writeFolder } from '@patient-hook/core'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { filesOf, hook, text } from '../../core/test/world.js'

/** release, export and import on the command line: on an application that is served, and on one that is not. */

const cli = join(import.meta.dirname, '../bin/patient-hook.js')
const HOOK = 'plugins/p/hooks/mark.ts'
const marks = (word: string) => hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.mark = '${word}' } }`)
const project = (word: string) =>
  filesOf({
    tables: { item: { fields: { name: text, mark: text } } },
    hooks: { mark: marks(word) },
    tests: {
      mark: `import { expect, test } from 'patient-hook/test'\ntest('marks', { fixtures: 'base' }, ({ save }) => { expect(save('item', { name: 'x' }).mark).toBe('${word}') })\n`,
    },
    fixtures: { base: { item: [{ id: 1, name: 'a', mark: 'b' }] } },
    project: { users: ['ada', 'bram'] },
  })

let folder: string
let served: ChildProcess | null = null
const at = (...parts: string[]) => join(folder, ...parts)
const run = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync('node', [cli, ...args], { encoding: 'utf8', cwd: folder })
  return { status, stdout, stderr }
}
/** What a save would do there now, by what it says in the CSV of the table. */
const marked = (): string[] => {
  writeFileSync(at('new.csv'), 'name\nx\n')
  expect(run('import', 'new.csv', '--table', 'item', '--data', 'data')).toMatchObject({ status: 0 })
  expect(run('export', '--data', 'data', '--table', 'item', '--csv', '--out', 'item.csv', '--force')).toMatchObject({ status: 0 })
  return readFileSync(at('item.csv'), 'utf8')
    .trim()
    .split('\n')
    .slice(1)
    .map((line) => line.split(',')[2]!)
}

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'release-'))
  writeFolder(at('project'), project('first'))
  expect(run('import', 'project', '--data', 'data')).toMatchObject({ status: 0 })
})
afterEach(async () => {
  if (served) {
    const ended = new Promise((done) => served!.once('exit', done))
    served.kill()
    await ended
    served = null
  }
  rmSync(folder, { recursive: true, force: true })
})

async function serve(): Promise<void> {
  served = spawn('node', [cli, 'serve', 'project', '--data', 'data', '--port', '0'], { cwd: folder })
  await new Promise<void>((done, fail) => {
    served!.stdout!.on('data', (text: Buffer) => String(text).includes('Patient Hook is at') && done())
    served!.once('exit', () => fail(new Error('it ended')))
  })
}

describe.each(['served', 'not served'])('an application that is %s', (how) => {
  beforeEach(async () => {
    if (how === 'served') await serve()
  })

  test('the folder’s text is released, and gone back from', () => {
    writeFolder(at('project'), project('second'))
    const { status, stdout } = run('release', 'project', '--data', 'data', '--plugin', 'p', '--note', 'Another word', '--json')
    expect(status).toBe(0)
    const told = JSON.parse(stdout) as { gate: { what: string; holds: boolean }[] }
    expect(told).toMatchObject({ plugin: 'p', version: '1.2.4', from: '1.2.3', kept: true })
    expect(told.gate.map(({ what, holds }) => [what, holds])).toEqual(
      ['model', 'types', 'findings', 'tests', 'coverage', 'bulk'].map((what) => [what, true]),
    )
    expect(marked()).toEqual(['second'])
    expect(run('release', '--data', 'data', '--plugin', 'p', '--back').stdout).toContain(
      'p 1.2.4 → 1.2.5: released to everyone, the text of 1.2.3',
    )
    expect(marked()).toEqual(['second', 'first'])
  })

  test('what does not hold stops it, but for a reason; pilots get it first', () => {
    writeFolder(at('project'), new Map([[HOOK, marks('second')]]))
    const stopped = run('release', 'project', '--data', 'data', '--plugin', 'p')
    expect(stopped).toMatchObject({
      status: 1,
      stdout: expect.stringMatching(/FAIL tests: [^]*marks failed[^]*1 of 6 checks failed\nNot released\. .*--reason/) as unknown,
    })
    expect(marked()).toEqual(['first'])
    const passed = run('release', '--data', 'data', '--plugin', 'p', '--reason', 'it must be', '--pilot', 'bram')
    expect(passed).toMatchObject({
      status: 0,
      stdout: expect.stringContaining('released to bram, although 1 of 6 checks failed: it must be') as unknown,
    })
    expect(marked()).toEqual(['first', 'first'])
  })
})

test('what would be lost is not written over, and wrong calls are reported', () => {
  writeFolder(at('project'), project('second'))
  expect(run('import', 'project', '--data', 'data').stdout).toContain('Taken into the working copy')
  writeFolder(at('project'), project('third'))
  const { status, stderr } = run('release', 'project', '--data', 'data', '--plugin', 'p')
  expect([status, stderr]).toEqual([
    2,
    expect.stringMatching(/working copy of p has changes that project has not, in plugins\/p\/hooks\/mark\.ts/),
  ])
  expect(run('release', '--data', 'data', '--plugin', 'q')).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('there is no plugin q') as unknown,
  })
  expect(run('release', 'project', '--plugin', 'p')).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('--data FOLDER') as unknown,
  })
  expect(run('release', '--data', 'nowhere', '--plugin', 'p')).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('records.db') as unknown,
  })
  expect(run('release', '--data', 'data', '--plugin', 'p', '--pilot', 'nobody', '--without-gate', '--reason', 'x')).toMatchObject(
    {
      status: 1,
      stderr: expect.stringContaining('no user nobody') as unknown,
    },
  )
})

describe('in and out', () => {
  test('a project comes back byte for byte the same', () => {
    expect(run('export', 'project', '--out', 'a.zip')).toMatchObject({ status: 0 })
    expect(run('import', 'a.zip', '--data', 'other')).toMatchObject({ status: 0 })
    expect(run('export', '--data', 'other', '--out', 'b.zip')).toMatchObject({ status: 0 })
    expect(readFileSync(at('b.zip')).equals(readFileSync(at('a.zip')))).toBe(true)
    expect(run('export', '--data', 'other', '--out', 'out')).toMatchObject({ status: 0 })
    for (const [path, text] of project('first')) expect(readFileSync(at('out', path), 'utf8')).toBe(text)
    expect(run('export', '--data', 'other', '--out', 'out')).toMatchObject({ status: 2 })
  })

  test('a plugin with the fixture set of its tests, to an application that lacks a field: the plan says so, and nothing is kept', () => {
    const [tables] = [JSON.stringify({ type: 'object', properties: { name: text } })]
    writeFolder(
      at('bare'),
      new Map([
        ['project.json', '{}'],
        ['tables/item.json', tables],
      ]),
    )
    expect(run('import', 'bare', '--data', 'other')).toMatchObject({ status: 0 })
    expect(run('export', '--data', 'data', '--plugin', 'p', '--out', 'p.zip')).toMatchObject({ status: 0 })
    const refused = run('import', 'p.zip', '--data', 'other')
    expect(refused).toMatchObject({
      status: 1,
      stdout: expect.stringMatching(
        /\+ fixtures\/base\/item\.json[^]*missing: field item\.mark, which hook mark uses[^]*No changes were saved/,
      ) as unknown,
    })
    expect(run('export', '--data', 'other', '--out', 'after')).toMatchObject({ status: 0, stdout: 'wrote 2 files\n' })
  })

  test('JSON Schemas of the tables, and OpenAPI with a schema for each', () => {
    expect(run('export', '--data', 'data', '--schemas', '--out', 'schemas')).toMatchObject({ status: 0 })
    expect(JSON.parse(readFileSync(at('schemas/tables/item.json'), 'utf8'))).toMatchObject({ properties: { name: text } })
    expect(run('export', '--data', 'data', '--openapi')).toMatchObject({ status: 0, stdout: 'wrote openapi.json\n' })
    expect(JSON.parse(readFileSync(at('openapi.json'), 'utf8'))).toMatchObject({
      openapi: '3.1.0',
      components: { schemas: { record_item: { required: ['id', 'name', 'mark'] } } },
    })
  })

  test('dry keeps nothing; the differences is listed', () => {
    writeFolder(at('project'), project('second'))
    const { status, stdout } = run('import', 'project', '--data', 'data', '--dry', '--json')
    expect(status).toBe(0)
    expect(JSON.parse(stdout)).toMatchObject({
      kept: false,
      plan: {
        plugins: [{ plugin: 'p', version: '1.2.3', from: '1.2.3' }],
        files: [
          { file: HOOK, change: 'changed' },
          { file: 'plugins/p/tests/mark.test.ts', change: 'changed' },
        ],
        needs: [],
        faults: [],
        tests: { passed: 1, failed: 0 },
      },
    })
    expect(run('release', '--data', 'data', '--plugin', 'p')).toMatchObject({
      status: 1,
      stderr: expect.stringContaining('has no unreleased changes') as unknown,
    })
  })

  test('rows of a CSV file: those with an id change it, others are new; a wrong one is reported with its line', () => {
    writeFileSync(at('rows.csv'), 'id,name\n,one\n,two\n')
    expect(run('import', 'rows.csv', '--table', 'item', '--data', 'data')).toMatchObject({ status: 0 })
    writeFileSync(at('rows.csv'), 'id,name\n2,changed\n,three\n')
    expect(run('import', 'rows.csv', '--table', 'item', '--data', 'data', '--dry').stdout).toBe('2 of 2 rows would be saved\n')
    expect(run('import', 'rows.csv', '--table', 'item', '--data', 'data').stdout).toContain('2 of 2 rows saved')
    run('export', '--data', 'data', '--table', 'item', '--csv', '--out', 'item.csv')
    expect(readFileSync(at('item.csv'), 'utf8')).toBe('id,name,mark\n1,one,first\n2,changed,first\n3,three,first\n')
    writeFileSync(at('rows.csv'), 'name,colour\nx,red\n')
    expect(run('import', 'rows.csv', '--table', 'item', '--data', 'data')).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/rows\.csv:1: .*no field colour/) as unknown,
    })
    writeFileSync(at('rows.csv'), 'id,name\n99,x\n,y\n')
    expect(run('import', 'rows.csv', '--table', 'item', '--data', 'data').status).toBe(1)
    expect(run('import', 'rows.csv', '--table', 'item', '--data', 'data', '--partial').stdout).toContain('1 of 2 rows saved')
  })
})
