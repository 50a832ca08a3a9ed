import { Router } from 'express'
import { z } from 'zod'
import { belongsToProject, HookError, isCode, type EngineHost } from '@patient-hook/core'
import { drafts, take } from '../validate.js'

const path = z.string().refine(belongsToProject, 'expected the path of a project file')

/** The project and its files: tables, hooks, tests. */
export function projectRoutes(engine: EngineHost): Router {
  const router = Router()
  router.get('/project', async (_, response) => {
    response.json(await engine.call('info'))
  })
  router.get('/declarations', async (_, response) => {
    response.json({ text: await engine.call('declarations') })
  })
  router.get('/code', async (_, response) => {
    const files = await engine.call('files')
    response.json({ files: Object.fromEntries(Object.entries(files).filter(([file]) => isCode(file))) })
  })
  router.get('/file', async (request, response) => {
    const file = take(path, request.query['path'])
    response.json({ path: file, text: await engine.call('file', file) })
  })
  router.put('/files', async (request, response) => {
    const { files } = take(z.strictObject({ files: z.record(path, z.string().max(1_000_000)) }), request.body)
    if (Object.keys(files).some((file) => file.startsWith('tables/')))
      throw new HookError('request/bad', { detail: 'tables are changed in the Model view' })
    response.json(await engine.call('putFiles', files))
  })
  router.post('/tests', async (request, response) => {
    const body = take(z.strictObject({ drafts, only: z.array(path).optional() }), request.body)
    response.json({ results: await engine.runTests(body.drafts, body.only) })
  })
  return router
}
