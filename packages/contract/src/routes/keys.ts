import { z } from 'zod'
import { route } from '../route.js'
import { apiKey, apiScope } from '../shapes/keys.js'
import { anyName } from '../shapes/values.js'

/** API keys; the programs themselves come in by /api/v1. */

const keys = z.object({ keys: z.array(apiKey) })

export const keyRoutes = {
  keys: route({ method: 'GET', path: '/keys', summary: 'API keys, newest first.', answer: keys }),
  makeKey: route({
    method: 'POST',
    path: '/keys',
    summary: 'Creates a key. It is shown once, because only its hash is stored.',
    body: z.strictObject({
      name: z.string().min(1).max(200),
      /** Who saves with it. */
      user: anyName,
      scope: apiScope,
      madeBy: anyName.optional(),
    }),
    answer: z.object({ id: z.number().int(), key: z.string() }),
    status: 201,
  }),
  revokeKey: route({
    method: 'DELETE',
    path: '/keys/:id',
    summary: 'Revokes a key, from the next call on.',
    params: z.object({ id: z.coerce.number().int().positive() }),
    answer: keys,
  }),
}
