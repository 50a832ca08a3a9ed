import { createServer, type Server } from 'node:http'
import { existsSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import pino from 'pino'
import type { Files } from '@patient-hook/contract'
import { lockFolder, openApplication, restoreBackup, type Application, type EngineLimits } from '@patient-hook/core'
import { makeToken } from './access.js'
import { makeApp } from './app.js'
import { prepareFolder } from './folder.js'
import { Announcements } from './services/announcements.js'
import { Backfills } from './services/backfills.js'
import { Delivery } from './services/delivery.js'
import { Jobs } from './services/jobs.js'
import { Link } from './services/link.js'
import { Proofs } from './services/proofs.js'
import { PostRoom, type MessageService } from './services/post-room.js'

export interface ServerOptions {
  /** The project's files, asked for only when the database has none. */
  files: () => Files
  dataFolder: string
  /** A backup that is put in the place of the records first. */
  restore?: string
  /** A project folder that is kept the same as the working copy. */
  link?: string
  /** Wanted port; the next free one is taken when it is in use. 0: any. */
  port: number
  /** Remove the database first. */
  fresh: boolean
  token?: string
  /** Where messages go; default: the post room that ships with the product. */
  service?: MessageService
  limits?: Partial<EngineLimits>
  /** Answers are held against the contract before they go out: for tests. */
  checkAnswers?: boolean
}
export type { MessageService } from './services/post-room.js'
export interface RunningServer {
  /** With the token, to be opened once. */
  url: string
  port: number
  database: string
  /** Where the records are that stood there before a backup was restored; null where there were none. */
  before: string | null
  application: Application
  close(): Promise<void>
}

const WEB = join(dirname(fileURLToPath(import.meta.url)), '../../web/dist')

/** @throws HookError where the folder is served already, or its database or the files cannot be used; nothing is left running then */
export async function startServer(options: ServerOptions): Promise<RunningServer> {
  const folder = resolve(options.dataFolder)
  const lock = lockFolder(folder)
  const undo: (() => Promise<void> | void)[] = [() => lock.release()]
  try {
    const { database, postRoom, proofs: proofsFolder, link: linkFile } = prepareFolder(folder, options.fresh)
    const before = options.restore === undefined ? null : restoreBackup(backupIn(folder, options.restore), database)
    const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' })
    const inbox = new PostRoom(postRoom)
    const service = options.service ?? inbox
    const application = await openApplication(database, options.files, options.limits)
    undo.push(() => application.close())
    const delivery = new Delivery(application.live, service, log)
    const jobs = new Jobs()
    const backfills = new Backfills(application, jobs, () => delivery.wake())
    const proofs = new Proofs(proofsFolder)
    const link = options.link === undefined ? null : new Link(options.link, application.live, linkFile)
    if (link) {
      undo.push(() => link.stop())
      await link.start()
    }
    const announcements = new Announcements(application.live, link)
    const token = options.token ?? makeToken()
    let port = options.port
    const { checkAnswers } = options
    const app = makeApp({
      application,
      delivery,
      jobs,
      backfills,
      inbox,
      proofs,
      announcements,
      link,
      token,
      port: () => port,
      folder,
      webFolder: WEB,
      log,
      checkAnswers,
    })
    const server = createServer(app)
    port = await listen(server, options.port)
    const url = `http://127.0.0.1:${port}/enter?token=${token}`
    lock.tell(`http://127.0.0.1:${port}`, url)
    // What an earlier run had committed and not delivered goes out now.
    delivery.wake()
    await backfills.goOn()
    undo.push(async () => {
      const closed = new Promise((done) => server.close(done))
      backfills.close()
      const stopped = jobs.close()
      server.closeAllConnections()
      await Promise.all([closed, stopped, delivery.rest()])
    })
    return {
      url,
      port,
      database,
      before,
      application,
      close: () => undoAll(undo),
    }
  } catch (error) {
    await undoAll(undo)
    throw error
  }
}

async function undoAll(steps: (() => Promise<void> | void)[]): Promise<void> {
  for (const step of steps.splice(0).reverse()) await step()
}

/** A backup may be named by its path, or as it stands in the application's folder. */
const backupIn = (folder: string, file: string): string =>
  existsSync(resolve(file)) || !existsSync(resolve(folder, file)) ? resolve(file) : resolve(folder, file)

/** Listens on 127.0.0.1; where the port is taken, on any free one. */
function listen(server: Server, port: number): Promise<number> {
  return new Promise((done, fail) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      if (error.code === 'EADDRINUSE' && port !== 0) done(listen(server, 0))
      else fail(error)
    })
    server.listen(port, '127.0.0.1', () => {
      const address = server.address()
      done(address !== null && typeof address === 'object' ? address.port : port)
    })
  })
}
