import { join } from 'node:path'
import express, { type Express, type NextFunction, type Request, type Response } from 'express'
import helmet from 'helmet'
import type { Logger } from 'pino'
import { ERRORS, HookError, report, type EngineHost } from '@patient-hook/core'
import { checkOrigin, enter, needAccess } from './access.js'
import { modelRoutes } from './routes/model.js'
import { projectRoutes } from './routes/project.js'
import { saveRoutes } from './routes/saves.js'
import type { Delivery } from './services/delivery.js'

export interface AppOptions {
  engine: EngineHost
  delivery: Delivery
  token: string
  port: () => number
  /** The built interface. */
  webFolder: string
  log: Logger
}

export function makeApp(options: AppOptions): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: true,
        // Vuetify and the editor set styles from script; everything else comes from this server.
        directives: {
          'style-src': ["'self'", "'unsafe-inline'"],
          'upgrade-insecure-requests': null,
          'worker-src': ["'self'", 'blob:'],
        },
      },
      strictTransportSecurity: false,
    }),
  )
  app.use(checkOrigin(options.port))
  app.get('/enter', enter(options.token))
  app.use(
    '/api',
    needAccess(options.token),
    express.json({ limit: '20mb' }),
    projectRoutes(options.engine),
    modelRoutes(options.engine),
    saveRoutes(options.engine, options.delivery),
  )
  app.use('/api', (request) => {
    throw new HookError('request/not-found', { detail: `There is nothing at ${request.method} /api${request.path}` })
  })
  app.use(express.static(options.webFolder, { index: false, maxAge: '1h' }))
  app.get('/{*path}', needAccess(options.token), (_, response) => {
    response.set('Cache-Control', 'no-store').sendFile(join(options.webFolder, 'index.html'))
  })
  app.use((error: unknown, request: Request, response: Response, _next: NextFunction) => {
    const made = toReport(error)
    const { status } = ERRORS[made.code]
    if (status >= 500) options.log.error({ error: made, url: request.url }, 'request failed')
    if (request.path.startsWith('/api')) response.status(status).json({ error: made })
    else response.status(status).type('text').send(`${made.message}\n${made.todo}\n`)
  })
  return app
}

function toReport(error: unknown) {
  if (error instanceof HookError) return error.report
  const { type, message } = error as { type?: string; message?: string }
  if (type === 'entity.parse.failed') return report('request/bad', { detail: `the body is not JSON: ${message}` })
  if (type === 'entity.too.large')
    return report('request/bad', { detail: 'the body is larger than 20 MB: send fewer rows at once' })
  return report('engine/stopped', { detail: message ?? String(error) })
}
