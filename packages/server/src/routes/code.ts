import { Router } from 'express'
import { ROUTES } from '@patient-hook/contract'
import type { Application } from '@patient-hook/core'
import { serve, type ServeOptions } from '../serve.js'

/** Names and places of hooks and plugins: planned, then put like any files. */
export function codeRoutes({ tries }: Application, options: ServeOptions): Router {
  const router = Router()
  serve(router, ROUTES.planCode, options, async ({ body: { change, drafts }, signal }) =>
    tries.call('planCode', [change, drafts], { signal }),
  )
  return router
}
