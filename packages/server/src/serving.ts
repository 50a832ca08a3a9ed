import { createServer, type Server } from 'node:http'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import pino from 'pino'
import type { Application, FolderLock } from '@patient-hook/core'
import { makeToken } from './access.js'
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

/** @returns the address with the token, to be opened once */
export async function serveApplication(
  application: Application,
  options: ServerOptions,
  { folder, data, lock, undo }: Ground,
): Promise<{ url: string; port: number }> {
  const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' })
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
  return { url, port }
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
