import Database from 'better-sqlite3'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { ROUTES, type Route, type RouteName } from '@patient-hook/contract'
import { filesOf, hook, integer, link, text } from '../../core/test/world.js'
import { App } from './app.js'
import { arbitraryOf, anything, schemaOf } from './arbitrary.js'

/**
 * Generated requests to every route: none is answered as if the application were at fault, none shows a stack or a path of this
 * machine, and what was refused has changed nothing. FUZZ_RUNS=50000 looks longer.
 */

const RUNS = Number(process.env['FUZZ_RUNS'] ?? 5000)
const files = () =>
  Object.fromEntries(
    filesOf({
      project: { users: ['ada'] },
      tables: { item: { fields: { name: text, qty: integer } }, part: { fields: { item: link('item'), name: text } } },
      hooks: { h: hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.name = (row.now.name ?? '').trim() } }`) },
      lib: { l: `export const one = 1` },
      tests: {
        t: `import { test, expect } from 'patient-hook/test'\ntest('saves', { fixtures: 'base' }, ({ save }) => { expect(save('item', { name: ' x ' }).name).toBe('x') })`,
      },
      fixtures: { base: { item: [{ id: 1, name: 'a' }], part: [{ id: 1, item: 1 }] } },
    }),
  )

let app: App
let watching: Database.Database
beforeAll(async () => {
  app = await App.start({ files, limits: { stallMs: 1000, memoryMb: 384 } })
  await app.save({ table: 'item', values: { name: 'a' } }, { table: 'item', values: { name: 'b' } })
  watching = new Database(app.server.database, { readonly: true })
})
afterAll(async () => {
  watching.close()
  await app.end()
})

interface Request {
  name: RouteName
  path: string
  body: unknown
}

/** Routes that are dear, or take away what the others need, come less often. */
const SELDOM: readonly RouteName[] = [
  'runTests',
  'replay',
  'proveFindings',
  'proveCoverage',
  'proveBulk',
  'proveMutants',
  'changeModel',
  'putFiles',
  'planModel',
  'watchJob',
  'release',
  'lookAtGate',
  'importZip',
  'planBackfill',
  'beginBackfill',
  'undoBackfill',
  'makeBackup',
  'importCsv',
]

function requestOf(name: RouteName): fc.Arbitrary<Request> {
  const route: Route = ROUTES[name]
  const parts = (schema: Route['params']) =>
    (schema ? arbitraryOf(schemaOf(schema)) : fc.constant({})) as fc.Arbitrary<Record<string, unknown>>
  const asText = (value: unknown) => (typeof value === 'string' ? value : (JSON.stringify(value) ?? ''))
  const encoded = (value: unknown) => encodeURIComponent(asText(value).replace(/\p{Surrogate}/gu, '?')) || '%20'
  return fc
    .tuple(
      parts(route.params),
      parts(route.query),
      route.body ? arbitraryOf(schemaOf(route.body)) : fc.oneof(fc.constant(undefined), anything),
    )
    .map(([params, query, body]) => {
      const path = route.path.replace(/:(\w+)/g, (_, key: string) => encoded((params ?? {})[key] ?? 'x'))
      const pairs = Object.entries(query ?? {}).map(([key, value]) => `${encoded(key)}=${encoded(value)}`)
      return { name, path: pairs.length > 0 ? `${path}?${pairs.join('&')}` : path, body: route.body ? body : undefined }
    })
}

const names = Object.keys(ROUTES) as RouteName[]
/** What most calls ask for: few random bodies get past the doors there, and some have to. */
const OFTEN: readonly RouteName[] = ['records', 'sheet', 'rehearse', 'save']
const weightOf = (name: RouteName) => (SELDOM.includes(name) ? 1 : OFTEN.includes(name) ? 40 : 8)
const request = fc.oneof(...names.map((name) => ({ weight: weightOf(name), arbitrary: requestOf(name) })))

test(`${RUNS} requests`, { timeout: 3_600_000 }, async () => {
  const version = () => watching.pragma('data_version', { simple: true })
  const notKept = () => watching.prepare('SELECT coalesce(max(id), 0) FROM ph_refused').pluck().get() as number
  /** Everything but the log of what was not kept, and figures that are written now and then. */
  const others = () => {
    const named = watching.prepare(
      `SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT IN ('ph_refused', 'ph_hook_hour')`,
    )
    return (named.pluck().all() as string[]).map((name) => [
      name,
      watching.prepare(`SELECT count(*) FROM "${name}"`).pluck().get(),
    ])
  }
  const statuses = new Map<string, number>()
  await fc.assert(
    fc.asyncProperty(request, async ({ name, path, body }) => {
      const { method, events } = ROUTES[name] as Route
      const before = version()
      const [refusedBefore, othersBefore] = [notKept(), others()]
      const controller = new AbortController()
      const response = await fetch(`${app.base}/api${path}`, {
        method,
        headers: { cookie: app.cookie, 'content-type': 'application/json' },
        body: body === undefined ? undefined : JSON.stringify(body),
        signal: controller.signal,
      })
      if (events && response.status === 200) return controller.abort()
      const said = await response.text()
      statuses.set(`${name} ${response.status}`, (statuses.get(`${name} ${response.status}`) ?? 0) + 1)
      expect(response.status, said.slice(0, 300)).toBeLessThan(500)
      expect(said).not.toMatch(/node_modules|\/work\/|\n\s+at |file:\/\/|\/tmp\//)
      // A job that saves is waited for: what comes next is not to see it at work.
      if (name === 'importCsv' && response.status === 202) {
        const { id } = JSON.parse(said) as { id: string }
        await (await fetch(`${app.base}/api/jobs/${id}/events`, { headers: { cookie: app.cookie } })).text()
      }
      if (response.status < 400) return
      expect(JSON.parse(said)).toMatchObject({
        error: { code: expect.any(String) as unknown, message: expect.any(String) as unknown },
      })
      // A save that was refused is in the log of those that were not kept, and nowhere else.
      if (notKept() === refusedBefore) expect(version()).toBe(before)
      else expect(others()).toEqual(othersBefore)
    }),
    { numRuns: RUNS, seed: Number(process.env['FUZZ_SEED'] ?? 20261125), endOnFailure: true },
  )
  // It got past the doors: the routes that read and try were answered with success, too.
  for (const name of OFTEN)
    expect(
      statuses.get(`${name} ${ROUTES[name].status ?? 200}`) ?? 0,
      `${name}: ${[...statuses].filter(([key]) => key.startsWith(`${name} `)).join('; ')}`,
    ).toBeGreaterThan(0)
})
