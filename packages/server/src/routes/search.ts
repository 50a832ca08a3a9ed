import { Router } from 'express'
import { ROUTES } from '@patient-hook/contract'
import type { Application } from '@patient-hook/core'
import { serve, type ServeOptions } from '../serve.js'

const MOST_VIEWS = 10

/** Records of all tables and kept views of lists, by a part of their names. */
export function searchRoutes({ live, reader }: Application, options: ServeOptions): Router {
  const router = Router()
  serve(router, ROUTES.search, options, async ({ query: { text } }) => {
    const records = await reader.read(
      'search',
      live.info.tables.map(({ name }) => name),
      text,
    )
    const views = (await reader.read('allViews')).filter(({ name }) => name.toLowerCase().includes(text.toLowerCase()))
    return { records, views: views.slice(0, MOST_VIEWS).map(({ table, name, query }) => ({ table, name, query })) }
  })
  return router
}
