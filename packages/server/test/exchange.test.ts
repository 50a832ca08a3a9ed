import type { ImportPlan, Job, JobInfo, ProjectInfo } from '@patient-hook/contract'
import { writeZip } from '@patient-hook/core'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { filesOf, hook, link, text } from '../../core/test/world.js'
import { App } from './app.js'

/** Zips over HTTP: looked at before anything is kept, and refused whole. */

const files = () =>
  Object.fromEntries(
    filesOf({
      tables: { item: { fields: { name: text, mark: text } } },
      hooks: { mark: hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.mark = 'm' } }`) },
      fixtures: { base: { item: [{ id: 1, name: 'here' }] } },
    }),
  )
let app: App
beforeAll(async () => {
  app = await App.start({ files })
})
afterAll(() => app.end())

const zipOf = async (texts: Record<string, string>) => (await writeZip(new Map(Object.entries(texts)))).toString('base64')
const info = async () => (await app.ask<ProjectInfo>('GET', '/project')).body
async function planOf(texts: Record<string, string>): Promise<ImportPlan> {
  const { body } = await app.ask<JobInfo>('POST', '/import/plan', { name: 'x.zip', zip: await zipOf(texts) })
  await (await fetch(`${app.base}/api/jobs/${body.id}/events`, { headers: { cookie: app.cookie } })).text()
  return (await app.ask<Job>('GET', `/jobs/${body.id}`)).body.results[0] as ImportPlan
}
const take = async (texts: Record<string, string>) => app.ask('POST', '/import', { name: 'x.zip', zip: await zipOf(texts) })
const plugin = (code: string, more: Record<string, string> = {}) => ({
  'plugins/q/plugin.json': '{ "version": "2.0.0" }',
  'plugins/q/hooks/other.ts': code,
  ...more,
})

test('what a hook needs and does not find, and a name that is taken, stop it; nothing is kept', async () => {
  const needy = plugin(hook(`{ table: 'item', moment: 'before-save', each(row: any) { row.now.colour = 'red' } }`))
  expect((await planOf(needy)).needs).toEqual([{ hook: 'other', table: 'item', field: 'colour' }])
  expect((await take(needy)).body.error).toMatchObject({
    code: 'zip/needs',
    message: expect.stringContaining('other uses item.colour') as unknown,
  })
  const lost = plugin(hook(`{ table: 'box', moment: 'before-save', each() {} }`))
  expect(await planOf(lost)).toMatchObject({
    needs: [{ hook: 'other', table: 'box', field: null }],
    faults: [expect.stringContaining('no table')],
  })
  expect((await take(lost)).status).toBe(409)
  const taken = { 'plugins/q/plugin.json': '{}', 'plugins/q/hooks/mark.ts': files()['plugins/p/hooks/mark.ts']! }
  expect((await planOf(taken)).faults.join()).toMatch(/plugin p has a hook of the same name, mark/)
  expect((await take(taken)).status).toBe(400)
  expect((await info()).plugins.map(({ name }) => name)).toEqual(['p'])
})

test('its tests run and its findings are reported; records and tables of here stay as they are', async () => {
  const good = plugin(hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.mark ??= 'q' } }`), {
    'plugins/q/tests/other.test.ts': `import { expect, test } from 'patient-hook/test'\ntest('q', ({ save }) => { expect(save('item', {}).mark).toBe('x') })\n`,
    'fixtures/base/item.json': '[]',
    'fixtures/new/item.json': '[]',
    'tables/box.json': JSON.stringify({ type: 'object', properties: { item: link('item') } }),
    'data/item.csv': 'id\n5\n',
    'project.json': '{}',
  })
  const plan = await planOf(good)
  expect(plan).toMatchObject({
    needs: [],
    faults: [],
    tests: { passed: 0, failed: 1, failures: ['plugins/q/tests/other.test.ts: q'] },
  })
  expect(plan.left.map(({ file }) => file).sort()).toEqual([
    'data/item.csv',
    'fixtures/base/item.json',
    'project.json',
    'tables/box.json',
  ])
  expect((await take(good)).status).toBe(200)
  const { plugins, fixtures, tables } = await info()
  expect([plugins.map(({ name }) => name), fixtures.map(({ name }) => name), tables.map(({ name }) => name)]).toEqual([
    ['p', 'q'],
    ['base', 'new'],
    ['item'],
  ])
})

test('a whole plugin is taken: files that the zip has not go', async () => {
  await take(plugin(hook(`{ table: 'item', moment: 'before-save', each() {} }`)))
  expect((await info()).plugins.find(({ name }) => name === 'q')!.tests).toEqual([])
})

test('what is not a zip of a project', async () => {
  expect((await app.ask('POST', '/import', { name: 'x.zip', zip: 'AAAA' })).body.error).toMatchObject({ code: 'zip/bad' })
  expect((await take({ 'readme.txt': 'x' })).body.error?.message).toMatch(/readme\.txt is no file of a project/)
})
