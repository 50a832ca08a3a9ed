import { Router } from 'express'
import { ROUTES } from '@patient-hook/contract'
import type { Application } from '@patient-hook/core'
import { hashOf, makeSecret } from '../bearer.js'
import type { ApiKeys } from '../services/api-keys.js'
import { serve, type ServeOptions } from '../serve.js'

/** API keys: made and shown once, listed, revoked. */
export function keyRoutes({ live, reader }: Application, apiKeys: ApiKeys, options: ServeOptions): Router {
  const router = Router()
  serve(router, ROUTES.keys, options, async () => ({ keys: await reader.read('keys') }))
  serve(router, ROUTES.makeKey, options, async ({ body: { name, user, scope, madeBy } }) => {
    const key = makeSecret()
    const by = madeBy ?? live.info.users[0]?.name ?? 'owner'
    const id = await apiKeys.make({ name, user, scope, hash: hashOf(key), madeBy: by })
    return { id, key }
  })
  serve(router, ROUTES.revokeKey, options, async ({ params: { id } }) => {
    await apiKeys.revoke(id)
    return { keys: await reader.read('keys') }
  })
  return router
}
