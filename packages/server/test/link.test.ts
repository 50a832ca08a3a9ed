import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { LinkState, ProjectEvent } from '@patient-hook/contract'
import { writeFolder } from '@patient-hook/core'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { filesOf, hook, text } from '../../core/test/world.js'
import { App } from './app.js'

/** A folder at work: working copy and folder stay the same in both directions, and neither is written over where both have changed. */

const HOOK = 'plugins/p/hooks/mark.ts'
const marks = (word: string) => hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.mark = '${word}' } }`)
const files = () =>
  Object.fromEntries(
    filesOf({
      tables: { item: { fields: { name: text, mark: text } } },
      hooks: { mark: marks('first') },
      project: { users: ['ada'] },
    }),
  )

let root: string
let folder: string
let app: App
let events: ProjectEvent[]
let stopListening: () => void
const at = (path: string) => join(folder, path)

beforeEach(async () => {
  root = mkdtempSync(join(tmpdir(), 'link-'))
  folder = join(root, 'project')
  writeFolder(folder, new Map(Object.entries(files())))
  await begin()
})
afterEach(async () => {
  stopListening()
  await app.end(true)
  rmSync(root, { recursive: true, force: true })
})

async function begin(): Promise<void> {
  app = await App.start({ files, dataFolder: join(root, 'data'), link: folder })
  events = []
  const gone = new AbortController()
  stopListening = () => gone.abort()
  const answer = await fetch(`${app.base}/api/project/events`, { headers: { cookie: app.cookie }, signal: gone.signal })
  void listen(answer).catch(() => {})
}
/** Woken by each event. */
let wake: () => void = () => {}
async function listen(answer: Response): Promise<void> {
  let text = ''
  for await (const chunk of answer.body as unknown as AsyncIterable<Uint8Array>) {
    text += new TextDecoder().decode(chunk)
    const parts = text.split('\n\n')
    text = parts.pop()!
    for (const part of parts) events.push(JSON.parse(part.replace(/^data: /, '')) as ProjectEvent)
    wake()
  }
}
/** Until an event says so. */
async function until(holds: (event: ProjectEvent) => boolean): Promise<ProjectEvent> {
  for (;;) {
    const event = events.find(holds)
    if (event) return event
    await new Promise<void>((done) => (wake = done))
  }
}
const working = async (path: string) => (await app.ask<{ text: string }>('GET', `/file?path=${path}`)).body.text
const put = (changed: Record<string, string | null>) => app.ask('PUT', '/files', { files: changed })
const conflicts = (event: ProjectEvent) => event.link?.conflicts.map(({ file, why }) => [file, why]) ?? []

test('what is written in the folder is the working copy, and pages are reported', async () => {
  writeFileSync(at(HOOK), marks('second'))
  await until(({ change }) => change?.files.includes(HOOK) === true)
  expect(await working(HOOK)).toBe(marks('second'))
  // What runs on saves is a release.
  const { body } = await app.ask<{ records: { mark: string }[] }>('POST', '/saves', { rows: [{ table: 'item', values: {} }] })
  expect(body.records[0]!.mark).toBe('first')
})

test('what is kept in the application is in the folder, new files and removed ones too', async () => {
  const other = 'plugins/p/hooks/other.ts'
  await put({ [HOOK]: marks('here'), [other]: hook(`{ table: 'item', moment: 'before-save', each() {} }`) })
  await expect.poll(() => existsSync(at(other)) && readFileSync(at(HOOK), 'utf8')).toBe(marks('here'))
  await put({ [other]: null })
  await expect.poll(() => existsSync(at(other))).toBe(false)
  rmSync(at(HOOK))
  await until(({ change }) => change?.files.includes(HOOK) === true && change.hooks.names?.length === 0)
})

test('code that cannot be used is reported, and taken once it can', async () => {
  writeFileSync(at(HOOK), 'export default {')
  const told = await until(({ link }) => (link?.trouble.length ?? 0) > 0)
  expect(told.link!.trouble.join()).toMatch(/mark\.ts/)
  expect(await working(HOOK)).toBe(marks('first'))
  writeFileSync(at(HOOK), marks('fixed'))
  await until(({ change }) => change?.files.includes(HOOK) === true)
  await until(({ link, change }) => link?.trouble.length === 0 && change === null && events.length > 2)
})

test('changed on both sides: neither is touched until somebody says which is meant', async () => {
  // The folder cannot be taken as it is, so that both sides go on by themselves.
  writeFileSync(at(HOOK), 'not code at all (')
  await until(({ link }) => (link?.trouble.length ?? 0) > 0)
  await put({ [HOOK]: marks('here') })
  const { link } = await until((event) => conflicts(event).length > 0)
  expect(link!.conflicts).toEqual([{ file: HOOK, why: 'both', folder: 'not code at all (', application: marks('here') }])
  expect(readFileSync(at(HOOK), 'utf8')).toBe('not code at all (')
  writeFileSync(at(HOOK), marks('there'))
  await until((event) => event.link?.conflicts[0]?.folder === marks('there'))
  expect(await working(HOOK)).toBe(marks('here'))
  const { body } = await app.ask<LinkState>('POST', '/link/resolve', { file: HOOK, take: 'folder' })
  expect(body.conflicts).toEqual([])
  expect(await working(HOOK)).toBe(marks('there'))
  expect((await app.ask('POST', '/link/resolve', { file: HOOK, take: 'folder' })).status).toBe(400)
})

test('a new start knows which side has changed since', async () => {
  stopListening()
  await app.end(true)
  writeFileSync(at(HOOK), marks('meanwhile'))
  await begin()
  expect(await working(HOOK)).toBe(marks('meanwhile'))
  expect(events.flatMap(conflicts)).toEqual([])
})

test('tables go to the folder with their records; in the folder they are not changed without a word', async () => {
  const path = 'tables/item.json'
  const edit = JSON.stringify({ type: 'object', properties: { name: text } })
  writeFileSync(at(path), edit)
  const event = await until((each) => conflicts(each).length > 0)
  expect(conflicts(event)).toEqual([[path, 'model']])
  await app.ask<LinkState>('POST', '/link/resolve', { file: path, take: 'application' })
  expect(readFileSync(at(path), 'utf8')).toBe(files()[path])
})
