import { Router } from 'express'
import { ROUTES } from '@patient-hook/contract'
import type { Application } from '@patient-hook/core'
import { serve, type ServeOptions } from '../serve.js'

/** Functions of a plugin's lib, tried by themselves. */
export function functionRoutes({ tries }: Application, options: ServeOptions): Router {
  const router = Router()
  serve(router, ROUTES.callFunction, options, async ({ body: { drafts, ...asked }, signal }) =>
    tries.call('callFunction', [asked, drafts], { signal }),
  )
  serve(router, ROUTES.keepFunctionTest, options, async ({ body: { drafts, test, ...asked }, signal }) =>
    tries.call('keepFunctionTest', [asked, test, drafts], { signal }),
  )
  return router
}
