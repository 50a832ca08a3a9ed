import { connect } from 'node:net'
import { gzipSync } from 'node:zlib'
import { Validator } from '@seriousme/openapi-schema-validator'
import { textRevision } from '@patient-hook/contract/text-revision'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { filesOf, hook, integer, link, text } from '../../core/test/world.js'
import { App } from './app.js'

/** Requests that are wrong: each is answered as that, with a status that says who has to act, and without a word of this machine. */

const lib = `export const twice = (n: number): number => n * 2`
const files = () =>
  Object.fromEntries(
    filesOf({
      tables: { item: { fields: { name: { ...text, maxLength: 100 }, qty: integer } }, part: { fields: { item: link('item') } } },
      hooks: {
        h: hook(`{ table: 'item', moment: 'before-save', each(row) { if (row.now.qty === 13) row.refuse('qty', 'not 13') } }`),
      },
      lib: { twice: lib },
      fixtures: { base: { item: [{ id: 1, name: 'a' }] } },
    }),
  )

let app: App
beforeAll(async () => {
  app = await App.start({ files })
})
afterAll(() => app.end())

const raw = async (path: string, init: RequestInit = {}) => {
  const response = await fetch(app.base + path, { ...init, headers: { cookie: app.cookie, ...(init.headers as object) } })
  const said = await response.text()
  expect(said).not.toMatch(/node_modules|\/work\/|\n\s+at |file:\/\//)
  return { status: response.status, said }
}
const post = (path: string, body: string | Buffer, headers: Record<string, string> = {}) =>
  raw(`/api${path}`, { method: 'POST', body: body as never, headers: { 'content-type': 'application/json', ...headers } })
const save = (rows: unknown, more: object = {}) => app.ask('POST', '/saves', { rows, ...more })

describe('addresses and headers', () => {
  test.each(['/%', '/api/%', '/api/tables/%E0%A4%A/records', '/%c0%ae%c0%ae/'])('%s', async (path) => {
    expect([400, 404]).toContain((await raw(path)).status)
  })
  test('Range and If-Match on the page are no matter', async () => {
    for (const headers of [{ range: 'bytes=900000-' }, { 'if-match': '"x"' }, { 'if-none-match': '*' }])
      expect((await raw('/', { headers: headers as never })).status).toBe(200)
  })
  test('If-Match on a file of the page', async () => {
    const { said } = await raw('/')
    const script = /src="(\/assets\/[^"]+)"/.exec(said)![1]!
    for (const headers of [{ range: 'bytes=99999999-' }, { 'if-match': '"x"' }]) {
      const { status } = await raw(script, { headers: headers as never })
      expect(status).toBeLessThan(500)
    }
  })
  test('unknown addresses', async () => {
    expect((await raw('/api/nothing')).status).toBe(404)
    expect((await raw(`/api/${'x'.repeat(5000)}`)).status).toBe(404)
    expect((await raw('/api/saves', { method: 'PATCH' })).status).toBe(404)
  })
})

describe('bodies', () => {
  test('no JSON', async () => expect((await post('/saves', '{ "rows": ')).status).toBe(400))
  test('no object', async () => expect((await post('/saves', '"text"')).status).toBe(400))
  test('an unknown charset', async () =>
    expect((await post('/saves', '{}', { 'content-type': 'application/json; charset=latin1' })).status).toBe(415))
  test('UTF-16 by its header', async () =>
    expect(
      (await post('/saves', Buffer.from('{}', 'utf16le'), { 'content-type': 'application/json; charset=utf-16' })).status,
    ).toBe(415))
  test('an unknown encoding', async () => expect((await post('/saves', '{}', { 'content-encoding': 'zstd-2' })).status).toBe(415))
  test('a broken encoding', async () => expect((await post('/saves', 'x', { 'content-encoding': 'gzip' })).status).toBe(400))
  test('gzip is taken', async () => {
    const body = gzipSync(JSON.stringify({ rows: [{ table: 'item', values: { name: 'zipped' } }] }))
    expect((await post('/saves', body, { 'content-encoding': 'gzip' })).status).toBe(201)
  })
  test('bytes that are no UTF-8, with the byte', async () => {
    const { status, said } = await post(
      '/saves',
      Buffer.from('{"rows":[{"table":"item","values":{"name":"caf\xe9"}}]}', 'latin1'),
    )
    expect(status).toBe(415)
    expect(said).toMatch(/byte 46 \(0xe9\).*Latin-1/)
    expect((await post('/saves', Buffer.from('\ufeff{}', 'utf16le'))).said).toMatch(/UTF-16/)
  })
  test('__proto__ as a key, also written with escapes', async () => {
    for (const key of ['__proto__', '\\u005f_proto__']) {
      const { status, said } = await post('/saves', `{"rows":[{"table":"item","values":{"${key}":1}}]}`)
      expect(status).toBe(400)
      expect(said).toContain('__proto__ cannot be a key')
    }
    expect((await save([{ table: 'item', values: { name: 'the text __proto__ is a text' } }])).status).toBe(201)
  })
  test('too large', async () => expect((await post('/saves', `"${'x'.repeat(21 * 1024 * 1024)}"`)).status).toBe(413))
  test('one that ends before it is whole', async () => {
    await new Promise<void>((done) => {
      const socket = connect(app.server.port, '127.0.0.1', () => {
        socket.write(
          `POST /api/saves HTTP/1.1\r\nHost: 127.0.0.1:${app.server.port}\r\nCookie: ${app.cookie}\r\nContent-Type: application/json\r\nContent-Length: 100\r\n\r\n{"rows"`,
          () => socket.destroy(),
        )
      })
      socket.on('close', () => done())
      socket.on('error', () => done())
    })
    expect((await save([{ table: 'item', values: { name: 'after' } }])).status).toBe(201)
  })
  test('several large ones at once: each is answered', async () => {
    const rows = JSON.stringify({
      rows: Array.from({ length: 20 }, () => ({ table: 'item', values: { name: 'x'.repeat(100) } })),
      user: 'ada',
      partial: false,
    })
    const large = rows.slice(0, -1) + ' '.repeat(4 * 1024 * 1024) + '}'
    const answers = await Promise.all(Array.from({ length: 6 }, () => post('/saves', large)))
    expect(answers.map((each) => each.status)).toEqual(Array(6).fill(201))
  })
})

describe('saves', () => {
  test('a row that contradicts itself', async () => {
    const { status, body } = await save([{ table: 'item', remove: true, copyOf: 2 }])
    expect(status).toBe(400)
    expect(body.error!.message).toMatch(/row 1/)
  })
  test.each([
    [[], 'rows'],
    [[{ table: 'item', values: { name: { ref: 1 } } }], 'rows.0.values.name'],
    [[{ table: 'item', values: { name: [] } }], 'rows.0.values.name'],
    [[{ table: 'item', vals: {} }], 'rows.0'],
    [[{ values: {} }], 'rows.0.table'],
    [[{ table: 'item', id: 1.5 }], 'rows.0.id'],
    [[{ table: 'item', id: 2 ** 60 }], 'rows.0.id'],
  ])('%j names the place', async (rows, place) => {
    const { status, body } = await save(rows)
    expect(status).toBe(400)
    expect(body.error!.message).toContain(place)
  })
  test('a partial save of which nothing is left is no success', async () => {
    const before = await app.ask('GET', '/tables/item/records')
    const { status, body } = await save(
      [
        { table: 'item', values: { qty: 13 } },
        { table: 'item', values: { qty: 13 } },
      ],
      { partial: true },
    )
    expect(status).toBe(422)
    expect(body.error!.refusals).toHaveLength(2)
    expect((await app.ask('GET', '/tables/item/records')).body).toEqual(before.body)
  })
  test('a partial save of which something is left tells both', async () => {
    const { status, body } = await save(
      [
        { table: 'item', values: { qty: 13 } },
        { table: 'item', values: { qty: 12 } },
      ],
      { partial: true },
    )
    expect(status).toBe(201)
    expect(body).toMatchObject({ kept: true, refusals: [{ row: 1 }] })
  })
  test('a table or field name of a megabyte is answered at once', async () => {
    const long = 'x'.repeat(150_000)
    const { body } = await save([{ table: 'item', values: { [long]: 1 } }])
    expect(body.error!.message.length).toBeLessThan(1000)
    expect((await save([{ table: long, values: {} }])).status).toBe(400)
  })
})

describe('files', () => {
  const put = (changed: Record<string, string | null>) => app.ask('PUT', '/files', { files: changed })
  test.each([
    ['fixtures/base/part.json', '[{ "id": 1, "item": 99 }]', /item has no record 99/],
    ['plugins/p/lib/odd.ts', 'export const = 1', /expected/i],
    ['plugins/p/tests/odd.test.ts', 'async () => 1', /synchronous/],
    ['plugins/p/lib/lost.ts', `import { x } from './nowhere'\nexport const y = x`, /there is no file/],
  ])('%s that would break later work is refused', async (path, content, message) => {
    const { status, body } = await put({ [path]: content })
    expect(status).toBe(400)
    expect([body.error!, ...(body.error!.others ?? [])].map((each) => each.message).join(' ')).toMatch(message)
    expect((await app.ask('GET', `/file?path=${path}`)).status).toBe(400)
  })
  test.each([
    'plugins/p/hooks/a\0b.ts',
    'plugins/p/hooks/..\\..\\x.ts',
    'plugins/p/hooks/../../x.ts',
    'plugins/p/lib/a:b.ts',
    'plugins/p/lib/x./y.ts',
  ])('%j is not a name of a file', async (path) => {
    expect((await put({ [path]: '' })).status).toBe(400)
  })
  test('a file can be removed; one that is imported cannot', async () => {
    expect((await put({ 'plugins/p/lib/more.ts': `import { twice } from './twice'\nexport const four = twice(2)` })).status).toBe(
      200,
    )
    const kept = await put({ 'plugins/p/lib/twice.ts': null })
    expect(kept.status).toBe(400)
    expect((await app.ask<{ text: string }>('GET', '/file?path=plugins/p/lib/twice.ts')).body.text).toBe(lib)
    expect((await put({ 'plugins/p/lib/more.ts': null, 'plugins/p/lib/twice.ts': null })).status).toBe(200)
    expect((await put({ 'plugins/p/lib/twice.ts': null })).body.error).toMatchObject({ code: 'project/missing-file' })
  })
  test('code nested deeply is an error with a place', async () => {
    const { status, body } = await put({ 'plugins/p/hooks/deep.ts': `export default ${'('.repeat(20000)}1${')'.repeat(20000)}` })
    expect(status).toBe(400)
    expect(body.error).toMatchObject({ code: 'compile/too-deep', file: 'plugins/p/hooks/deep.ts' })
  })
})

describe('the model', () => {
  const field = (name: string) => ({
    was: null,
    name,
    label: name,
    help: '',
    type: 'string',
    format: null,
    enum: null,
    link: null,
    required: false,
    unique: false,
    minimum: null,
    maximum: null,
    maxLength: null,
  })
  test('a field named id is shown to be impossible', async () => {
    const edit = { name: 'odd', label: 'Odd', help: '', fields: [field('id')] }
    const { status, body } = await app.ask<{ steps: { effect: string; text: string }[] }>('POST', '/model/plan', {
      table: 'odd',
      edit,
    })
    expect(status).toBe(200)
    expect(body.steps[0]).toMatchObject({ effect: 'blocked' })
    expect((await app.ask('POST', '/model/change', { table: 'odd', edit, accept: true })).status).toBe(409)
  })
  test('a file that somebody else saved since the edit began is not overwritten', async () => {
    const file = 'plugins/p/lib/shared.ts'
    const put = (text: string, from: string | null | undefined) =>
      app.ask('PUT', '/files', { files: { [file]: text }, ...(from === undefined ? {} : { from: { [file]: from } }) })
    const text = async () => (await app.ask<{ text: string }>('GET', `/file?path=${file}`)).body.text
    expect((await put('export const one = 1\n', null)).status).toBe(200)
    const first = textRevision(await text())
    expect((await put('export const one = 2\n', first)).status).toBe(200)
    for (const from of [first, null, 'x']) {
      const { status, body } = await put('export const one = 3\n', from)
      expect([status, body.error?.code, body.error?.file]).toEqual([409, 'project/changed', file])
    }
    expect(await text()).toBe('export const one = 2\n')
  })
  test('a change of a table that was changed since is refused, and drops nothing', async () => {
    const tables = async () =>
      (await app.ask<{ tables: { name: string; fields: { name: string }[] }[] }>('GET', '/project')).body.tables
    const [table] = await tables()
    const edit = {
      name: table!.name,
      label: 'x',
      help: '',
      fields: table!.fields.map(({ name }) => ({ ...field(name), was: name })),
    }
    const ask = (body: object) => app.ask('POST', '/model/change', { table: table!.name, accept: true, ...body })
    for (const from of [undefined, null, 'of another time']) {
      const { status, body } = await ask({ edit: { ...edit, fields: [] }, from })
      expect([status, body.error?.code]).toEqual([409, 'model/changed'])
      expect((await ask({ edit: null, from })).status).toBe(409)
    }
    expect((await tables())[0]).toEqual(table)
  })
  test('a CSV of more columns than a table can have is refused at once', async () => {
    const header = Array.from({ length: 100_000 }, (_, i) => `c${i}`).join()
    const { status, body } = await app.ask('POST', '/model/infer', { name: 'wide', file: 'wide.csv', text: `${header}\n` })
    expect(status).toBe(400)
    expect(body.error!.message).toMatch(/100000 columns/)
  })
})

test('two servers in one browser keep each other’s access', () => {
  expect(app.cookie).toMatch(new RegExp(`^patient_hook_access_${app.server.port}=`))
})

test('the OpenAPI document is valid by a validator that is not ours', async () => {
  const { body } = await app.ask<Record<string, unknown>>('GET', '/openapi.json')
  const result = await new Validator().validate(body)
  expect(result.errors ?? []).toEqual([])
  expect(result.valid).toBe(true)
  expect(body['openapi']).toBe('3.1.0')
})
