import { createServer, type Server } from 'node:http'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import pino from 'pino'
import type { Application, FolderLock } from '@patient-hook/core'
import { Access } from './access.js'
import { makeApp } from './app.js'
import type { DataFolder } from './folder.js'
import type { ServerOptions, Undo } from './index.js'
import { Announcements } from './services/announcements.js'
import { Backfills } from './services/backfills.js'
import { Delivery } from './services/delivery.js'
import { Jobs } from './services/jobs.js'
import { Link } from './services/link.js'
import { PostRoom } from './services/post-room.js'
import { Proofs } from './services/proofs.js'

/** Serves an application that is open: its services, and the port. */

const WEB = join(dirname(fileURLToPath(import.meta.url)), '../../web/dist')

interface Ground {
  /** Of the application. */
  folder: string
  data: DataFolder
  lock: FolderLock
  /** Takes what has to be done to end it. */
  undo: Undo
}

/** @returns the port, and the link that lets the next browser in */
export async function serveApplication(
  application: Application,
  options: ServerOptions,
  { folder, data, lock, undo }: Ground,
): Promise<{ link: () => string; port: number }> {
  const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' })
  application.live.onPaused = (hook) =>
    log.warn({ hook }, 'the hook is paused: it stopped the engine again and again, and saves that it would run for are refused')
  const inbox = new PostRoom(data.postRoom)
  const delivery = new Delivery(application.live, options.service ?? inbox, log)
  const jobs = new Jobs()
  const backfills = new Backfills(application, jobs, () => delivery.wake())
  const proofs = new Proofs(data.proofs)
  const link = options.link === undefined ? null : new Link(options.link, application.live, data.link)
  if (link) {
    undo.push(() => link.stop())
    await link.start()
  }
  const announcements = new Announcements(application.live, link)
  let port = options.port
  const linkWith = (token: string) => `http://127.0.0.1:${port}/enter?token=${token}`
  const access = new Access(
    () => port,
    (token) => lock.tell(`http://127.0.0.1:${port}`, linkWith(token)),
    options.token,
  )
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
    access,
    port: () => port,
    folder,
    webFolder: WEB,
    log,
    checkAnswers,
  })
  const server = createServer({ headersTimeout: 5000, connectionsCheckingInterval: 1000, requestTimeout: 300_000 }, app)
  port = await listen(server, options.port)
  const nextLink = () => linkWith(access.token)
  lock.tell(`http://127.0.0.1:${port}`, nextLink())
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
  return { link: nextLink, port }
}

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
