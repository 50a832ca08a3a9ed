import { expect, test } from './app'

/** Only who opened the printed address gets in. */
test('without the token there is no answer', async ({ request, server }) => {
  const base = `http://127.0.0.1:${server.port}`
  expect((await request.get(`${base}/api/project`)).status()).toBe(403)
  expect((await request.get(`${base}/enter?token=wrong`)).status()).toBe(403)
})

test('the token becomes an HttpOnly cookie; other hosts and origins are refused', async ({ app: page, server, context }) => {
  const [cookie] = await context.cookies()
  expect(cookie).toMatchObject({ httpOnly: true, sameSite: 'Strict' })
  const base = `http://127.0.0.1:${server.port}`
  expect((await page.request.get(`${base}/api/project`)).status()).toBe(200)
  expect((await page.request.get(`${base}/api/project`, { headers: { host: 'elsewhere.example' } })).status()).toBe(403)
  expect(
    (await page.request.post(`${base}/api/saves`, { headers: { origin: 'http://elsewhere.example' }, data: {} })).status(),
  ).toBe(403)
})

test('bad input gets a clear error', async ({ app: page, server }) => {
  const post = async (path: string, data: unknown) => {
    const response = await page.request.post(`http://127.0.0.1:${server.port}/api${path}`, { data })
    return { status: response.status(), ...((await response.json()) as { error: { code: string; message: string } }).error }
  }
  expect(await post('/saves', { rows: [] })).toMatchObject({
    status: 400,
    code: 'request/bad',
    message: expect.stringContaining('rows') as unknown,
  })
  expect(await post('/saves', { rows: [{ table: 'nothing', values: {} }] })).toMatchObject({
    status: 400,
    code: 'save/unknown-table',
  })
  expect(await post('/nothing', {})).toMatchObject({ status: 404, code: 'request/not-found' })
  const response = await page.request.get(`http://127.0.0.1:${server.port}/api/file?path=../../etc/passwd`)
  expect(response.status()).toBe(400)
})
