import { z } from 'zod'
import { HookError } from '@patient-hook/core'

/** Zod on every input. @throws HookError request/bad, naming the path within the request */
export function take<S extends z.ZodType>(schema: S, input: unknown): z.infer<S> {
  const parsed = schema.safeParse(input)
  if (parsed.success) return parsed.data
  const issue = parsed.error.issues[0]!
  throw new HookError('request/bad', { detail: `${issue.path.map(String).join('.') || 'the request'}: ${issue.message}` })
}

export const value = z.union([z.string(), z.number(), z.boolean(), z.null()])
export const name = z.string().regex(/^[a-z][A-Za-z0-9_]*$/, 'expected a name: letters, digits and _ only, a small letter first')
export const drafts = z.record(z.string().max(300), z.string().max(1_000_000)).optional()
export const user = z.string().min(1).max(100).optional()
export const recordId = z.coerce.number().int().positive()
export const values = z.record(z.string(), value)

export const inputRow = z.strictObject({
  table: z.string(),
  values: z.record(z.string(), z.union([value, z.strictObject({ ref: z.string() })])).optional(),
  id: z.number().int().positive().optional(),
  as: z.string().optional(),
  copyOf: z.number().int().positive().optional(),
  remove: z.boolean().optional(),
})
export const rows = z.array(inputRow).min(1).max(100_000)
