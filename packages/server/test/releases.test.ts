import type { Job, JobInfo, ReleaseInfo, ReleaseOverview } from '@patient-hook/contract'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { filesOf, hook, text } from '../../core/test/world.js'
import { App } from './app.js'

/** Releases of a running application: the gate as a job, and what saves run while releases change. */

const HOOK = 'plugins/p/hooks/mark.ts'
const OTHER = 'plugins/p/hooks/other.ts'
/** Two hooks that say of which text they are: a save must never run one of each. */
const pair = (word: string) => ({
  [HOOK]: hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.mark = '${word}' } }`),
  [OTHER]: hook(`{ table: 'item', moment: 'before-save', after: ['mark'], each(row) { row.now.more = '${word}' } }`),
})
const testOf = (word: string) =>
  `import { expect, test } from 'patient-hook/test'\ntest('says it', ({ save }) => { expect(save('item', { name: 'x' }).mark).toBe('${word}') })\n`
const files = () => ({
  ...Object.fromEntries(
    filesOf({ tables: { item: { fields: { name: text, mark: text, more: text } } }, project: { users: ['ada', 'bram'] } }),
  ),
  ...pair('first'),
  'plugins/p/plugin.json': '{ "version": "1.0.0" }',
  'plugins/p/tests/mark.test.ts': testOf('first'),
})

let app: App
let folder: string
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'releases-'))
  app = await App.start({ files, dataFolder: folder })
})
afterEach(async () => {
  await app.end(true)
  rmSync(folder, { recursive: true, force: true })
})

const put = (changed: Record<string, string | null>) => app.ask('PUT', '/files', { files: changed })
const overview = async () => (await app.ask<ReleaseOverview>('GET', '/releases')).body

async function job(path: string, body: object): Promise<Job> {
  const { body: begun } = await app.ask<JobInfo>('POST', path, body)
  const answer = await fetch(`${app.base}/api/jobs/${begun.id}/events`, { headers: { cookie: app.cookie } })
  // The stream ends with the job.
  await answer.text()
  return (await app.ask<Job>('GET', `/jobs/${begun.id}`)).body
}
const gateOf = ({ results }: Job) =>
  results.flatMap((result) => ('gate' in result ? [[result.gate.what, result.gate.holds] as const] : []))
const release = (more: object = {}) => job('/releases', { plugin: 'p', ...more })
const saved = async (user: string) => {
  const { body } = await app.ask<{ records: { mark: string; more: string }[]; error: unknown }>('POST', '/saves', {
    user,
    rows: [{ table: 'item', values: { name: 'x' } }],
  })
  return body.records[0]!
}

test('the gate stops a release whose test fails; fixed, it goes, and is measured on that text only', async () => {
  await put(pair('second'))
  const stopped = await release()
  expect(stopped.job).toMatchObject({ state: 'failed', error: { code: 'release/not-held' } })
  expect(gateOf(stopped)).toEqual([
    ['model', true],
    ['types', true],
    ['findings', true],
    ['tests', false],
    ['coverage', true],
    ['bulk', true],
  ])
  expect(await saved('ada')).toMatchObject({ mark: 'first' })
  await put({ 'plugins/p/tests/mark.test.ts': testOf('second') })
  const done = await release({ note: 'Another word.' })
  expect(gateOf(done).every(([, holds]) => holds)).toBe(true)
  expect(done.results.at(-1)).toMatchObject({ released: { version: '1.0.1', note: 'Another word.', reason: null } })
  expect(await saved('ada')).toMatchObject({ mark: 'second', more: 'second' })
  expect((await overview()).plugins[0]!.releases[0]!.gate).toHaveLength(6)
})

test('coverage that fell stops a release', async () => {
  await put({ ...pair('second'), 'plugins/p/tests/mark.test.ts': testOf('second') })
  await release()
  await put({
    [OTHER]: hook(
      `{ table: 'item', moment: 'before-save', after: ['mark'], each(row) { row.now.more = 'second'; if (row.now.name === 'y') row.now.more = 'third' } }`,
    ),
  })
  const { results } = await release()
  const coverage = results.flatMap((result) => ('gate' in result && result.gate.what === 'coverage' ? [result.gate] : []))
  expect(coverage).toEqual([
    {
      what: 'coverage',
      holds: false,
      detail: expect.stringMatching(
        /^other: tests run 66 % of its statements, and ran 100 % in 1\.0\.1\nother: .*branches/,
      ) as unknown,
    },
  ])
})

test('rules are turned off in project.json', async () => {
  await put({ ...pair('second'), 'project.json': '{ "users": ["ada", "bram"], "gate": { "tests": false, "coverage": 100 } }' })
  const { results } = await release()
  const details = Object.fromEntries(
    results.flatMap((result) => ('gate' in result ? [[result.gate.what, [result.gate.holds, result.gate.detail]]] : [])),
  )
  expect(details['tests']).toEqual([true, 'not asked for (gate in project.json)'])
  expect(details['coverage']).toEqual([true, expect.stringContaining('100 %')])
  expect((await put({ 'project.json': '{ "gate": { "test": false } }' })).body.error?.message).toMatch(/test.*tests/)
})

test('a text that cannot be loaded among what is live is reported by the gate', async () => {
  await put({ ...pair('second'), 'plugins/q/plugin.json': '{}' })
  await put({ 'plugins/q/hooks/quiet.ts': pair('first')[HOOK]!, [OTHER]: null })
  await put({ [HOOK]: null, 'plugins/q/hooks/quiet.ts': null, 'plugins/q/hooks/mark.ts': pair('second')[HOOK]! })
  const { job: ended, results } = await job('/releases', { plugin: 'q' })
  expect(ended.error?.code).toBe('release/not-held')
  expect(results[0]).toMatchObject({
    gate: { what: 'model', holds: false, detail: expect.stringMatching(/plugin p has a hook of the same name, mark/) as unknown },
  })
})

test('200 saves across a pilot and its end: each runs one text whole, none is lost', async () => {
  await put(pair('second'))
  const answers: Promise<{ mark: string; more: string }>[] = []
  const send = (count: number) => {
    for (let index = 0; index < count; index++) answers.push(saved(index % 2 === 0 ? 'ada' : 'bram'))
  }
  send(50)
  const piloted = release({ pilots: ['bram'], reason: 'a test', withoutGate: true })
  send(50)
  const { results } = await piloted
  const { id } = (results.at(-1) as { released: ReleaseInfo }).released
  send(50)
  const takenBack = app.ask<ReleaseInfo>('PUT', `/releases/${id}/audience`, { users: [] })
  send(50)
  expect((await takenBack).status).toBe(200)
  const records = await Promise.all(answers)
  expect(records).toHaveLength(200)
  for (const [index, { mark, more }] of records.entries()) {
    expect(more).toBe(mark)
    if (index % 2 === 0) expect(mark).toBe('first')
  }
  // In the middle the pilot was certainly there for its user, and is certainly gone now.
  expect(records.slice(100, 150).filter(({ mark }) => mark === 'second')).toHaveLength(25)
  expect(await saved('bram')).toMatchObject({ mark: 'first', more: 'first' })
  const { total } = (await app.ask<{ total: number }>('GET', '/tables/item/records')).body
  expect(total).toBe(201)
})

test('a hook that is switched off sleeps in rehearsals of what is released, and runs in those of the working copy', async () => {
  await app.ask('PUT', '/hooks/other/switch', { state: 'off' })
  const tried = async (released: boolean) => {
    const { body } = await app.ask<{ records: { mark: string; more: string | null }[] }>('POST', '/rehearsals', {
      rows: [{ table: 'item', values: { name: 'x' } }],
      released,
    })
    return body.records[0]
  }
  expect(await tried(true)).toMatchObject({ mark: 'first', more: null })
  expect(await tried(false)).toMatchObject({ mark: 'first', more: 'first' })
})

test('releases, pilots and switches are as they were after a new start', async () => {
  await put(pair('second'))
  await release({ pilots: ['bram'], reason: 'a test', withoutGate: true })
  await app.ask('PUT', '/hooks/other/switch', { state: 'off' })
  await app.end(true)
  app = await App.start({ files, dataFolder: folder })
  expect(await saved('bram')).toMatchObject({ mark: 'second', more: null })
  expect(await saved('ada')).toMatchObject({ mark: 'first', more: null })
  const { plugins, hooks } = await overview()
  expect(plugins[0]!.working.files.map(({ file }) => file)).toEqual([HOOK, OTHER])
  expect(hooks.find(({ hook }) => hook === 'other')!.switched).toMatchObject({ state: 'off' })
})

test('a text that nobody has looked at is not released', async () => {
  await put(pair('second'))
  const { stamps } = (await overview()).plugins[0]!
  const looked = await job('/releases/gate', { plugin: 'p' })
  expect(looked.job.code).toBe(stamps.patch)
  await put(pair('third'))
  const { status, body } = await app.ask('POST', '/releases', {
    plugin: 'p',
    stamp: stamps.patch,
    reason: 'x',
    withoutGate: true,
  })
  expect([status, body.error?.code]).toEqual([409, 'release/changed'])
})

test('what was sent for it is checked', async () => {
  const codes = await Promise.all([
    app.ask('POST', '/releases', { plugin: 'nothing' }),
    app.ask('POST', '/releases', { plugin: 'p' }),
    app.ask('POST', '/releases', { plugin: 'p', withoutGate: true }),
    app.ask('POST', '/releases', { plugin: 'p', pilots: [] }),
    app.ask('PUT', '/releases/99/audience', { users: null }),
    app.ask('POST', '/releases/back', { plugin: 'p' }),
    app.ask('PUT', '/hooks/nothing/switch', { state: 'off' }),
  ])
  expect(codes.map(({ status, body }) => [status, body.error?.code])).toEqual([
    [404, 'release/no-plugin'],
    [409, 'release/nothing-new'],
    [400, 'request/bad'],
    [400, 'request/bad'],
    [404, 'release/unknown'],
    [409, 'release/no-step-back'],
    [400, 'release/bad'],
  ])
})
