import { EventEmitter } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createClient } from '@hey-api/openapi-ts'
import { Validator } from '@seriousme/openapi-schema-validator'
import Database from 'better-sqlite3'
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest'
import type { ApiKey } from '@patient-hook/contract'
import { filesOf, hook, integer, link, text } from '../../core/test/world.js'
import { limitCalls } from '../src/bearer.js'
import { App, type Answer } from './app.js'

/** Another program's way in: keys, saves that are asked for once, rows that expect, and a client that a public generator makes. */

const files = () =>
  Object.fromEntries(
    filesOf({
      tables: {
        site: { fields: { name: { ...text, title: 'Name' } }, required: ['name'] },
        item: {
          fields: {
            name: text,
            number: text,
            kind: { ...text, enum: ['a', 'b'] },
            at: { ...text, format: 'date-time' },
            qty: integer,
            site: link('site'),
          },
        },
      },
      hooks: {
        number: hook(
          `{ table: 'item', moment: 'before-save', on: ['create'], each(row, _, { next }) { row.now.number = next('item') } }`,
        ),
        limit: hook(
          `{ table: 'item', moment: 'before-save', each(row) { if ((row.now.qty ?? 0) > 100) row.refuse('qty', 'too many') } }`,
        ),
      },
      project: { users: ['ada', 'bram'], sequences: { item: { prefix: 'N', digits: 3, start: 1 } } },
    }),
  )

let app: App
let folder: string
const secrets: Record<string, string> = {}
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'v1-'))
  app = await App.start({ files, dataFolder: folder })
  for (const scope of ['save', 'read']) {
    const { body } = await app.ask<{ key: string }>('POST', '/keys', { name: `the ${scope} one`, user: 'bram', scope })
    secrets[scope] = body.key
  }
})
afterAll(async () => {
  await app.end(true)
  rmSync(folder, { recursive: true, force: true })
})

interface Saved {
  kept: boolean
  save: number
  records: Record<string, unknown>[]
}
const ask = <T = Saved>(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Answer<T>> =>
  app.ask<T>(method, `/v1${path}`, body, {
    headers: { cookie: '', authorization: `Bearer ${secrets['save']}`, ...headers },
  })
const save = (values: object, headers = {}) => ask('POST', '/saves', { rows: [{ table: 'item', values }] }, headers)
const total = async () => (await ask<{ total: number }>('GET', '/tables/item/records')).body.total

describe('keys', () => {
  test('a save is that of the key’s user; the key is kept as a hash only', async () => {
    const { status, body } = await save({ name: 'one' })
    expect([status, body.records[0]]).toMatchObject([201, { name: 'one', number: 'N001' }])
    const { body: record } = await ask<{ history: { user: string }[] }>('GET', '/tables/item/records/1')
    expect(record.history[0]!.user).toBe('bram')
    const db = new Database(join(folder, 'records.db'), { readonly: true })
    expect(JSON.stringify(db.prepare('SELECT * FROM ph_key').all())).not.toContain(secrets['save']!.slice(4))
    db.close()
  })

  test('one that may read does not save', async () => {
    const asReader = { authorization: `Bearer ${secrets['read']}` }
    expect((await ask('GET', '/tables/item/records', undefined, asReader)).status).toBe(200)
    expect((await save({ name: 'x' }, asReader)).body.error).toMatchObject({ code: 'access/not-allowed' })
    expect((await ask('POST', '/rehearsals', { rows: [{ table: 'item', values: { name: 'x' } }] }, asReader)).status).toBe(200)
  })

  test.each(['', 'Bearer nothing', 'Basic YWRhOmFkYQ==', 'Bearer '])('%j is no key', async (authorization) => {
    const { status, body } = await save({ name: 'x' }, { authorization })
    expect([status, body.error!.code]).toEqual([401, 'access/denied'])
  })

  test('the cookie of the interface is none, and a key does not open the interface', async () => {
    expect((await app.ask('GET', '/v1/tables')).status).toBe(401)
    const { status } = await app.ask('GET', '/project', undefined, {
      headers: { cookie: '', authorization: `Bearer ${secrets['save']}` },
    })
    expect(status).toBe(403)
  })

  test('it is listed with its last use, and revoked from the next call on', async () => {
    const { body: made } = await app.ask<{ id: number; key: string }>('POST', '/keys', {
      name: 'gone',
      user: 'ada',
      scope: 'read',
    })
    const authorization = { authorization: `Bearer ${made.key}` }
    expect((await ask('GET', '/tables', undefined, authorization)).status).toBe(200)
    const listed = async () => (await app.ask<{ keys: ApiKey[] }>('GET', '/keys')).body.keys.find(({ id }) => id === made.id)!
    await expect.poll(async () => (await listed()).usedAt).not.toBeNull()
    const { body } = await app.ask<{ keys: ApiKey[] }>('DELETE', `/keys/${made.id}`)
    expect(body.keys.find(({ id }) => id === made.id)!.revokedAt).not.toBeNull()
    expect((await ask('GET', '/tables', undefined, authorization)).status).toBe(401)
    expect((await app.ask('DELETE', '/keys/99')).body.error?.code).toBe('access/no-key')
    expect((await app.ask('POST', '/keys', { name: 'x', user: 'nobody', scope: 'read' })).body.error?.code).toBe(
      'save/unknown-user',
    )
  })
})

describe('a save that is asked for again', () => {
  test('gets the first answer, and is done once; also at the same time', async () => {
    const before = await total()
    const named = { 'idempotency-key': 'a' }
    const answers = await Promise.all([1, 2, 3, 4].map(() => save({ name: 'once' }, named)))
    expect(new Set(answers.map(({ body }) => JSON.stringify(body))).size).toBe(1)
    expect(answers.map(({ status }) => status)).toEqual([201, 201, 201, 201])
    expect(await total()).toBe(before + 1)
  })
  test('also one that was refused, and under another key it is another', async () => {
    const named = { 'idempotency-key': 'refused' }
    const first = await save({ qty: 200 }, named)
    expect([first.status, first.body.error]).toMatchObject([422, { code: 'hook/refused', field: 'qty' }])
    expect((await save({ qty: 200 }, named)).body).toEqual(first.body)
  })
  test('with other rows is an error', async () => {
    await save({ name: 'b' }, { 'idempotency-key': 'b' })
    expect((await save({ name: 'c' }, { 'idempotency-key': 'b' })).body.error).toMatchObject({ code: 'access/name-taken' })
  })
  test('also after a new start', async () => {
    const named = { 'idempotency-key': 'later' }
    const { body } = await save({ name: 'later' }, named)
    const before = await total()
    await app.end(true)
    app = await App.start({ files, dataFolder: folder })
    expect((await save({ name: 'later' }, named)).body).toEqual(body)
    expect(await total()).toBe(before)
  })
})

describe('a row that expects', () => {
  test('is refused where a field was changed since, with the field, who and when; others may have changed', async () => {
    const id = (await save({ name: 'x', qty: 1 })).body.records[0]!['id']
    const change = (values: object, expected: object) =>
      ask('POST', '/saves', { rows: [{ table: 'item', id, values, expect: expected }] })
    expect((await change({ qty: 2 }, { qty: 1 })).status).toBe(201)
    await app.ask('POST', '/saves', { user: 'ada', rows: [{ table: 'item', id, values: { name: 'y' } }] })
    expect((await change({ qty: 3 }, { qty: 2 })).status).toBe(201)
    const { status, body } = await change({ name: 'z' }, { name: 'x' })
    expect([status, body.error]).toMatchObject([409, { code: 'save/changed-since', table: 'item', field: 'name' }])
    expect(body.error!.message).toMatch(/^name of item \d+ is now "y", not "x": ada changed it, \d{4}-/)
  })
  test('takes a time in whatever form it is written', async () => {
    const id = (await save({ name: 'timed', at: '2026-03-01T12:00:00+01:00' })).body.records[0]!['id']
    const row = { table: 'item', id, values: { name: 'later' }, expect: { at: '2026-03-01T11:00:00Z' } }
    expect((await ask('POST', '/saves', { rows: [row] })).status).toBe(201)
  })
  test('knows its fields, and needs an id', async () => {
    const wrong = (row: object) => ask('POST', '/saves', { rows: [{ table: 'item', ...row }] })
    expect((await wrong({ id: 1, values: {}, expect: { nme: 'x' } })).body.error).toMatchObject({ code: 'save/unknown-field' })
    expect((await wrong({ values: {}, expect: { name: 'x' } })).body.error?.message).toMatch(/expect needs the id/)
    const removed = await wrong({ id: 1, remove: true, expect: { name: 'other' } })
    expect(removed.body.error).toMatchObject({ code: 'save/changed-since' })
  })
})

describe('limits', () => {
  test('more calls at once than are answered are reported to come again; none is lost without a word', async () => {
    const before = await total()
    const answers = await Promise.all(Array.from({ length: 80 }, (_, index) => save({ name: `n${index}` })))
    const codes = answers.map(({ status }) => status)
    expect(codes.filter((code) => code !== 201 && code !== 429)).toEqual([])
    expect(await total()).toBe(before + codes.filter((code) => code === 201).length)
    expect((await save({ name: 'after' })).status).toBe(201)
  })
  test('so many are answered at a time, and the next when one of them is', () => {
    const limit = limitCalls(2)
    const call = (id = 1) => {
      const response = Object.assign(new EventEmitter(), { headers: {} as Record<string, string>, set: () => response })
      const next = vi.fn()
      return { response, next, begin: () => limit({ key: { id } } as never, response as never, next) }
    }
    const [first, second, third] = [call(), call(), call()]
    first.begin()
    second.begin()
    expect(third.begin).toThrow(/2 are answered at a time/)
    expect(third.next).not.toHaveBeenCalled()
    first.response.emit('close')
    third.begin()
    expect(third.next).toHaveBeenCalledOnce()
  })
  test('too large, not found, not allowed', async () => {
    expect((await ask('POST', '/saves', { rows: [{ table: 'item', values: { name: 'x'.repeat(21_000_000) } }] })).status).toBe(
      413,
    )
    expect((await ask('GET', '/nothing')).status).toBe(404)
    expect((await ask('GET', '/tables/nothing/records')).body.error).toMatchObject({ code: 'project/unknown-table' })
  })
})

describe('its description', () => {
  let document: Record<string, unknown>
  beforeAll(async () => {
    document = (await ask<Record<string, unknown>>('GET', '/openapi.json')).body
  })

  test('is OpenAPI 3.1 by a validator that is not ours, with a schema for each table', async () => {
    const { valid, errors } = await new Validator().validate(structuredClone(document))
    expect({ valid, errors }).toEqual({ valid: true, errors: undefined })
    const { schemas } = document['components'] as { schemas: Record<string, unknown> }
    expect(schemas['record_item']).toMatchObject({
      properties: { kind: { enum: ['a', 'b', null] }, site: { description: 'The id of a record of site.' } },
      required: ['id', 'name', 'number', 'kind', 'at', 'qty', 'site'],
    })
    expect(schemas['record_site']).toMatchObject({ properties: { name: { type: 'string', title: 'Name' } } })
  })

  // @hey-api/openapi-ts, a public generator, with the fetch client that it brings along.
  test('a client that a public generator makes of it saves a record and reads it', { timeout: 120_000 }, async () => {
    // Beside the sources, so it is compiled as they are.
    const output = join(import.meta.dirname, `generated-${process.pid}`)
    try {
      await createClient({
        input: document as never,
        output: { path: output, postProcess: [] },
        logs: { level: 'silent' },
        plugins: ['@hey-api/typescript', '@hey-api/sdk', '@hey-api/client-fetch'],
      })
      const { client } = (await import(join(output, 'client.gen.ts'))) as { client: { setConfig(config: object): void } }
      const sdk = (await import(join(output, 'sdk.gen.ts'))) as Record<
        'save' | 'record',
        (options: object) => Promise<{ data?: Saved & { record: object }; error?: { error: { code: string } } }>
      >
      client.setConfig({ baseUrl: `${app.base}/api/v1`, auth: () => secrets['save'] })
      const rows = [
        { table: 'site', as: 's', values: { name: 'North' } },
        { table: 'item', values: { name: 'made by a client', kind: 'a', site: { ref: 's' } } },
      ]
      const saved = await sdk.save({ body: { rows }, headers: { 'Idempotency-Key': 'generated' } })
      expect(saved.data).toMatchObject({ kept: true, records: [{ name: 'North' }, { name: 'made by a client', kind: 'a' }] })
      const id = saved.data!.records[1]!['id']
      const read = await sdk.record({ path: { table: 'item', id } })
      expect(read.data!.record).toMatchObject({ id, name: 'made by a client' })
      const refused = await sdk.save({ body: { rows: [{ table: 'item', values: { qty: 101 } }] } })
      expect(refused.error).toMatchObject({ error: { code: 'hook/refused' } })
    } finally {
      rmSync(output, { recursive: true, force: true })
    }
  })
})
