import { Router } from 'express'
import { ROUTES } from '@patient-hook/contract'
import type { Application } from '@patient-hook/core'
import { serve, type ServeOptions } from '../serve.js'

/** Views of lists, kept by name for everybody. */
export function listViewRoutes({ live, reader }: Application, options: ServeOptions): Router {
  const router = Router()
  const all = async (table: string) => ({ views: await reader.read('views', table) })
  serve(router, ROUTES.listViews, options, ({ params: { table } }) => all(table))
  serve(router, ROUTES.keepListView, options, async ({ params: { table, view }, body: { query, user } }) => {
    await live.call('keepListView', table, view, query, user)
    return all(table)
  })
  serve(router, ROUTES.removeListView, options, async ({ params: { table, view } }) => {
    await live.call('removeListView', table, view)
    return all(table)
  })
  return router
}
