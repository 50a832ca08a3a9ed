import { Router } from 'express'
import { ROUTES } from '@patient-hook/contract'
import type { Application } from '@patient-hook/core'
import { serve, type ServeOptions } from '../serve.js'

const MOST_VIEWS = 10

/** Views of lists, kept by name for everybody, and the search over records and views. */
export function listViewRoutes({ live, reader }: Application, options: ServeOptions): Router {
  const router = Router()
  const all = async (table: string) => ({ views: await reader.read('views', table) })
  serve(router, ROUTES.search, options, async ({ query: { text } }) => {
    const records = await reader.read(
      'search',
      live.info.tables.map(({ name }) => name),
      text,
    )
    const views = (await reader.read('allViews')).filter(({ name }) => name.toLowerCase().includes(text.toLowerCase()))
    return { records, views: views.slice(0, MOST_VIEWS).map(({ table, name, query }) => ({ table, name, query })) }
  })
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
