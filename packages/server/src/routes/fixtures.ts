import { Router } from 'express'
import { ROUTES } from '@patient-hook/contract'
import type { Application } from '@patient-hook/core'
import { serve, type ServeOptions } from '../serve.js'

/** Fixture sets as rows that are being edited. */
export function fixtureRoutes({ tries }: Application, options: ServeOptions): Router {
  const router = Router()
  serve(router, ROUTES.readFixtures, options, async ({ body: { set, drafts }, signal }) =>
    tries.call('readFixtures', [set, drafts], { signal }),
  )
  serve(router, ROUTES.writeFixtures, options, async ({ body: { set, table, rows, drafts }, signal }) =>
    tries.call('writeFixtures', [set, table, rows, drafts], { signal }),
  )
  serve(router, ROUTES.takeFixtures, options, async ({ body: { set, records, drafts }, signal }) =>
    tries.call('takeFixtures', [set, records, drafts], { signal }),
  )
  serve(router, ROUTES.readFixtureCsv, options, async ({ body: { set, table, file, text, drafts }, signal }) =>
    tries.call('readFixtureCsv', [set, table, file, text, drafts], { signal }),
  )
  serve(router, ROUTES.fixtureCsv, options, async ({ body: { set, table, drafts }, signal }) =>
    tries.call('fixtureCsv', [set, table, drafts], { signal }),
  )
  serve(router, ROUTES.makeFixtures, options, async ({ body: { set, table, count, seed, drafts }, signal }) =>
    tries.call('makeFixtures', [set, table, count, seed, drafts], { signal }),
  )
  return router
}
