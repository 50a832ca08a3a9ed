import { Router } from 'express'
import { ROUTES } from '@patient-hook/contract'
import type { Application } from '@patient-hook/core'
import { JsonText, serve, type ServeOptions } from '../serve.js'

/** Changes of the model: planned on a copy of the records, then done; and tables read out of files. */
export function modelRoutes({ live, tries }: Application, options: ServeOptions): Router {
  const router = Router()
  serve(router, ROUTES.planModel, options, async ({ body: { code, ...edit }, signal }) => {
    return new JsonText((await tries.callText('planModel', [edit, code], { signal }))!)
  })
  serve(router, ROUTES.changeModel, options, async ({ body: { accept, user, from = null, ...edit } }) =>
    live.changeModel({ ...edit, from }, accept, user),
  )
  serve(router, ROUTES.inferTable, options, async ({ body: { name, file, text }, signal }) =>
    tries.call('inferTable', [name, file, text], { signal }),
  )
  serve(router, ROUTES.readSchema, options, async ({ body: { name, text }, signal }) =>
    tries.call('readSchema', [name, text], { signal }),
  )
  return router
}
