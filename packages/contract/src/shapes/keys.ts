import { z } from 'zod'

/** Keys by which other programs come in. */

/** `read`: records only; `save`: records and saves. */
export const apiScope = z.enum(['read', 'save'])
export type ApiScope = z.infer<typeof apiScope>

export const apiKey = z.object({
  id: z.number().int(),
  name: z.string(),
  /** Who saves with it. */
  user: z.string(),
  scope: apiScope,
  madeAt: z.string(),
  madeBy: z.string(),
  usedAt: z.string().nullable(),
  revokedAt: z.string().nullable(),
})
export type ApiKey = z.infer<typeof apiKey>
