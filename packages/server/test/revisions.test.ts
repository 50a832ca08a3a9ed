import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import type { ProjectChange, ProjectInfo } from '@patient-hook/contract'
import { startServer } from '@patient-hook/server'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { filesOf, hook, text } from '../../core/test/world.js'
import { App } from './app.js'

/** A user who knows a revision of the project is shown the changes since, and all of it where that is not known. */

const at = (name: string, folder = 'hooks') => `plugins/p/${folder}/${name}.ts`
const marks = (mark: string) => hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.mark = '${mark}' } }`)
interface Code {
  revision: string
  partial: boolean
  files: Record<string, string | null>
}

const files = () =>
  Object.fromEntries(
    filesOf({
      tables: { item: { fields: { mark: text } } },
      hooks: { mark: marks('a') },
      lib: { words: 'export const a = 1\n' },
    }),
  )

let app: App
beforeAll(async () => {
  app = await App.start({ files })
})
afterAll(() => app.end())

const code = async (since?: string) => (await app.ask<Code>('GET', `/code${since === undefined ? '' : `?since=${since}`}`)).body
const put = async (files: Record<string, string | null>) => (await app.ask<ProjectChange>('PUT', '/files', { files })).body

test('code that changed since a revision, with what is new and what went', async () => {
  const first = await code()
  expect(first.partial).toBe(false)
  expect(Object.keys(first.files).sort()).toEqual([at('mark'), at('words', 'lib')])
  expect(await code(first.revision)).toEqual({ revision: first.revision, partial: true, files: {} })

  const kept = await put({ [at('mark')]: marks('b') })
  expect(kept).toMatchObject({ since: first.revision, files: [at('mark')] })
  expect(await code(first.revision)).toEqual({ revision: kept.revision, partial: true, files: { [at('mark')]: marks('b') } })

  const more = await put({
    [at('other')]: marks('c'),
    [at('words', 'lib')]: null,
    'plugins/p/plugin.json': '{ "version": "1.2.0" }',
  })
  const [after, both] = [await code(kept.revision), await code(first.revision)]
  expect(after).toEqual({
    revision: more.revision,
    partial: true,
    files: { [at('other')]: marks('c'), [at('words', 'lib')]: null },
  })
  expect(both.files).toEqual({ ...after.files, [at('mark')]: marks('b') })
})

test('a revision that is not known, or too long ago', async () => {
  const { revision, files } = await code()
  expect(await code('of-another-start')).toEqual({ revision, partial: false, files })
  // A change that nobody can see is one all the same; more of them than are remembered.
  for (let index = 0; index < 201; index++) await put({ [at('mark')]: marks(`m${index}`) })
  const { body: info } = await app.ask<ProjectInfo>('GET', '/project')
  expect(await code(revision)).toMatchObject({ revision: info.revision, partial: false, files: { [at('mark')]: marks('m200') } })
})

test('nothing is reported about what was refused', async () => {
  const { revision } = await code()
  expect(await app.ask('PUT', '/files', { files: { [at('mark')]: 'export default {' } })).toMatchObject({ status: 400 })
  expect(await code(revision)).toEqual({ revision, partial: true, files: {} })
})

test('an engine that ends as it describes the project leaves that to the next one', async () => {
  const started = await startServer({ port: 0, fresh: true, files, dataFolder: mkdtempSync(join(tmpdir(), 'revisions-')) })
  const { live } = started.application
  process.kill(live.pid!, 'SIGKILL')
  // Whether it had answered by then is not known: one of these two hears of the end, and the caller again is answered.
  const stopped = (error: unknown) => expect(error).toMatchObject({ code: 'engine/stopped' })
  await live.known().catch(stopped)
  await live.call('declarations').catch(stopped)
  await live.known()
  expect(live.info.hooks.map(({ name, reads, writes }) => ({ name, reads, writes }))).toEqual([
    { name: 'mark', reads: [], writes: ['mark'] },
  ])
  const { revision } = await live.putFiles({ [at('other')]: marks('x') })
  expect(live.info).toMatchObject({ revision, hooks: [{ name: 'mark' }, { name: 'other' }] })
  await started.close()
  rmSync(dirname(started.database), { recursive: true, force: true })
})
