import { Router } from 'express'
import { z } from 'zod'
import type { EngineHost } from '@patient-hook/core'
import { name, take, user, values } from '../validate.js'

const field = z.strictObject({
  was: z.string().nullable(),
  name,
  label: z.string().min(1, 'a field needs a label').max(200),
  help: z.string().max(2000),
  type: z.enum(['string', 'integer', 'number', 'boolean']),
  format: z.enum(['date', 'date-time']).nullable(),
  enum: z
    .array(z.union([z.string(), z.number()]))
    .min(1, 'a field with choices needs at least one')
    .nullable(),
  link: z.strictObject({ table: name, onDelete: z.enum(['refuse', 'clear', 'cascade']) }).nullable(),
  required: z.boolean(),
  unique: z.boolean(),
  minimum: z.number().nullable(),
  maximum: z.number().nullable(),
  maxLength: z.number().int().nonnegative().nullable(),
})
const table = z.strictObject({
  name,
  label: z.string().min(1, 'a table needs a label').max(200),
  help: z.string().max(2000),
  fields: z.array(field).max(500),
})
const edit = z.strictObject({
  table: name,
  edit: table.nullable(),
  fills: values.optional(),
  records: z
    .strictObject({
      file: z.string().max(300),
      text: z.string(),
      columns: z.array(z.strictObject({ header: z.string(), field: z.string().nullable() })),
    })
    .optional(),
})
const source = z.strictObject({ name, file: z.string().max(300), text: z.string() })

/** Changes of the model: planned, then done; and tables read out of files. */
export function modelRoutes(engine: EngineHost): Router {
  const router = Router()
  router.post('/model/plan', async (request, response) => {
    const { code, ...asked } = take(edit.extend({ code: z.boolean().default(true) }), request.body)
    response.json(await engine.call('planModel', asked, code))
  })
  router.post('/model/change', async (request, response) => {
    const { accept, user: who, ...asked } = take(edit.extend({ accept: z.boolean(), user }), request.body)
    response.json(await engine.call('changeModel', asked, accept, who))
  })
  router.post('/model/infer', async (request, response) => {
    const { name: table, file, text } = take(source, request.body)
    response.json(await engine.call('inferTable', table, file, text))
  })
  router.post('/model/schema', async (request, response) => {
    const { name: table, text } = take(source, request.body)
    response.json(await engine.call('readSchema', table, text))
  })
  return router
}
