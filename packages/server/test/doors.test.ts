import { connect, type Socket } from 'node:net'
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest'
import { filesOf, integer, text } from '../../core/test/world.js'
import { App } from './app.js'

/** Requests that never end hold up nobody else; a link lets one browser in. */

let app: App
let key: string
let other: string
beforeAll(async () => {
  app = await App.start({
    files: () => Object.fromEntries(filesOf({ tables: { item: { fields: { name: text, qty: integer } } } })),
  })
  const make = async (name: string, scope: string) =>
    (await app.ask<{ key: string }>('POST', '/keys', { name, user: 'owner', scope })).body.key
  key = await make('reader', 'read')
  other = await make('writer', 'save')
})
afterAll(() => app.end())

const open: Socket[] = []
afterEach(() => {
  for (const socket of open.splice(0)) socket.destroy()
})

/** Begins a request and does not end it. */
async function begin(headers: string): Promise<Socket> {
  const socket = connect(app.server.port, '127.0.0.1')
  open.push(socket)
  await new Promise((done) => socket.once('connect', done))
  await new Promise((done) => socket.write(headers, done))
  return socket
}
const post = (path: string, length: number, more: string) =>
  begin(
    `POST ${path} HTTP/1.1\r\nHost: 127.0.0.1:${app.server.port}\r\nContent-Type: application/json\r\nContent-Length: ${length}\r\n${more}\r\n\r\n{`,
  )
const answerOf = (socket: Socket) => new Promise<string>((done) => socket.once('data', (data) => done(data.toString())))
const v1 = (method: string, path: string, secret: string, body?: unknown) =>
  fetch(`${app.base}/api/v1${path}`, {
    method,
    body: body === undefined ? undefined : JSON.stringify(body),
    headers: { authorization: `Bearer ${secret}`, 'content-type': 'application/json' },
  })

test('unfinished requests of one key do not shut out other programs', async () => {
  await Promise.all(Array.from({ length: 50 }, () => post('/api/v1/saves', 1000, `Authorization: Bearer ${key}`)))
  expect((await v1('GET', '/tables', other)).status).toBe(200)
  expect((await v1('POST', '/saves', other, { rows: [{ table: 'item', values: { name: 'x' } }] })).status).toBe(201)
})

test('an announced large body that does not come holds up no other large one', async () => {
  await post('/api/saves', 5_000_000, `Cookie: ${app.cookie}`)
  const rows = Array.from({ length: 40_000 }, (_, qty) => ({ table: 'item', values: { name: 'x'.repeat(20), qty } }))
  expect(JSON.stringify({ rows }).length).toBeGreaterThan(2_000_000)
  expect((await app.save(...rows)).status).toBe(201)
})

test('headers that do not come within 5 s, and bodies that come too slowly, are given up', async () => {
  const headless = await begin('GET /api/project HTTP/1.1\r\nHost: x')
  const slow = await post('/api/saves', 1_000_000, `Cookie: ${app.cookie}`)
  const begun = performance.now()
  expect(await answerOf(headless)).toMatch(/^HTTP\/1\.1 408/)
  expect(performance.now() - begun).toBeLessThan(9000)
  expect(await answerOf(slow)).toMatch(/^HTTP\/1\.1 408[^]*request\/too-slow/)
  expect(performance.now() - begun).toBeLessThan(25_000)
}, 40_000)

test('a parameter that a list does not have is an error, and not the whole table', async () => {
  const response = await v1('GET', '/tables/item/records?filter=x', key)
  expect(response.status).toBe(400)
  expect(JSON.stringify(await response.json())).toContain('filter')
})

describe('the link', () => {
  test('works once; the next one is in access.txt', async () => {
    const link = app.server.url
    const enter = (url: string, cookie = '') => fetch(url, { redirect: 'manual', headers: { cookie } })
    const first = await enter(link)
    expect(first.status).toBe(303)
    expect((await enter(link)).status).toBe(403)
    expect((await enter(app.server.url)).status).toBe(303)
    const cookie = first.headers.get('set-cookie')!.split(';')[0]!
    // A user who opens it again in the same browser is in already.
    expect((await enter(link, cookie)).status).toBe(303)
  })

  test('the cookie is not the token, and good for this server only', async () => {
    const second = await App.start({ files: () => Object.fromEntries(filesOf({ tables: { item: { fields: { name: text } } } })) })
    try {
      const value = app.cookie.split('=')[1]
      expect(app.server.url).not.toContain(value)
      const asked = await fetch(`${second.base}/api/project`, {
        headers: { cookie: `patient_hook_access_${second.server.port}=${value}` },
      })
      expect(asked.status).toBe(403)
    } finally {
      await second.end()
    }
  })

  test('requests of pages of other servers are not taken', async () => {
    const asked = await app.ask('GET', '/project', undefined, { headers: { 'sec-fetch-site': 'same-site' } })
    expect(asked.status).toBe(403)
  })
})
