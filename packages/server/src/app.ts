import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import express, { type Express, type RequestHandler } from 'express'
import helmet from 'helmet'
import type { Logger } from 'pino'
import { openApi, openApiV1 } from '@patient-hook/contract'
import { HookError, type Application } from '@patient-hook/core'
import { checkOrigin, type Access } from './access.js'
import { jsonBodies } from './bodies.js'
import { answerFailures } from './failures.js'
import { backfillRoutes } from './routes/backfills.js'
import { backupRoutes } from './routes/backups.js'
import { codeRoutes } from './routes/code.js'
import { exchangeRoutes } from './routes/exchange.js'
import { fixtureRoutes } from './routes/fixtures.js'
import { functionRoutes } from './routes/functions.js'
import { jobRoutes } from './routes/jobs.js'
import { proofRoutes } from './routes/proofs.js'
import { modelRoutes } from './routes/model.js'
import { searchRoutes } from './routes/search.js'
import { listViewRoutes } from './routes/list-views.js'
import { keyRoutes } from './routes/keys.js'
import { v1Routes } from './routes/v1.js'
import { projectRoutes } from './routes/project.js'
import { releaseRoutes } from './routes/releases.js'
import { recordRoutes } from './routes/records.js'
import { saveRoutes } from './routes/saves.js'
import type { ServeOptions } from './serve.js'
import { ApiKeys } from './services/api-keys.js'
import type { Announcements } from './services/announcements.js'
import type { Link } from './services/link.js'
import type { Delivery } from './services/delivery.js'
import { VERSION } from '@patient-hook/contract/version'
import type { Proofs } from './services/proofs.js'
import type { Backfills } from './services/backfills.js'
import type { Inbox } from './services/post-room.js'
import type { Jobs } from './services/jobs.js'

export interface AppOptions extends ServeOptions {
  application: Application
  delivery: Delivery
  jobs: Jobs
  backfills: Backfills
  /** What the post room received. */
  inbox: Inbox
  proofs: Proofs
  announcements: Announcements
  /** The folder that is kept the same as the working copy, if any. */
  link: Link | null
  access: Access
  port: () => number
  /** The application's folder. */
  folder: string
  /** The built interface. */
  webFolder: string
  log: Logger
}

/** The project's description is computed while the server begins to listen: all that asks for `live.info` waits for it. */
const known =
  ({ live }: Application): RequestHandler =>
  async (_request, _response, next) => {
    await live.known()
    next()
  }

export function makeApp(options: AppOptions): Express {
  const { application, delivery, jobs, proofs, port, access } = options
  const apiKeys = new ApiKeys(application)
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
  app.use(checkOrigin(port))
  app.get('/enter', access.enter)
  // For supervisors, which have no session: they learn nothing else.
  app.get('/healthz', (_, response) => void response.type('text').send('ok\n'))
  app.get('/readyz', known(application), (_, response) => void response.type('text').send('ready\n'))
  app.use('/api/v1', known(application), v1Routes(application, apiKeys, delivery, options))
  app.use('/api', access.need, ...jsonBodies())
  // Who tries or saves something waits for nothing that it does not need.
  app.use('/api', saveRoutes(application, delivery, options))
  app.use('/api', known(application))
  app.get('/api/openapi-v1.json', (_, response) => void response.json(openApiV1(VERSION, application.live.info.tables)))
  app.get('/api/openapi.json', (_, response) => void response.json(openApi(VERSION)))
  app.use(
    '/api',
    projectRoutes(application, options.announcements, options.link, options),
    modelRoutes(application, options),
    recordRoutes(application, delivery, options.inbox, options),
    jobRoutes(application, jobs, options),
    proofRoutes(application, jobs, proofs, options),
    releaseRoutes(application, jobs, options),
    codeRoutes(application, options),
    listViewRoutes(application, options),
    searchRoutes(application, options),
    keyRoutes(application, apiKeys, options),
    exchangeRoutes(application, jobs, delivery, options.backfills, options),
    backfillRoutes(application, jobs, options.backfills, options),
    backupRoutes(application, jobs, options.folder, options),
    fixtureRoutes(application, options),
    functionRoutes(application, options),
  )
  app.use('/api', (request) => {
    throw new HookError('request/not-found', {
      detail: `No route matches ${request.method} /api${request.path.slice(0, 200)}`,
    })
  })
  app.use(express.static(options.webFolder, { index: false, maxAge: '1h', acceptRanges: false }))
  app.get('/{*path}', access.need, (_, response) => {
    // Read again each time, so that a rebuilt interface is served without a new start.
    response
      .set('Cache-Control', 'no-store')
      .type('html')
      .send(readFileSync(join(options.webFolder, 'index.html'), 'utf8'))
  })
  app.use(answerFailures(options.log, options.folder))
  return app
}
