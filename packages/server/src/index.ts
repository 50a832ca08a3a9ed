import { existsSync, mkdirSync, rmSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import pino from 'pino'
import { EngineHost, type Drafts } from '@patient-hook/core'
import { makeToken } from './access.js'
import { makeApp } from './app.js'
import { Delivery } from './services/delivery.js'
import { PostRoom, type MessageService } from './services/post-room.js'

export interface ServerOptions {
  /** The project's files, read only when the database is new. */
  files: () => Drafts
  dataFolder: string
  /** Wanted port; the next free one is taken when it is in use. 0: any. */
  port: number
  /** Remove the database first. */
  fresh: boolean
  token?: string
  /** Where messages go; default: the post room that ships with the product. */
  service?: MessageService
}
export type { MessageService } from './services/post-room.js'
export interface RunningServer {
  /** With the token, to be opened once. */
  url: string
  port: number
  database: string
  engine: EngineHost
  close(): Promise<void>
}

const WEB = join(dirname(fileURLToPath(import.meta.url)), '../../web/dist')

export async function startServer(options: ServerOptions): Promise<RunningServer> {
  const folder = resolve(options.dataFolder)
  const database = join(folder, 'vault.db')
  mkdirSync(folder, { recursive: true })
  if (options.fresh) for (const ending of ['', '-wal', '-shm']) rmSync(database + ending, { force: true })
  const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' })
  const engine = new EngineHost()
  await engine.open(existsSync(database) ? {} : options.files(), database)
  const delivery = new Delivery(engine, options.service ?? new PostRoom(join(folder, 'post-room.jsonl')), log)
  const token = options.token ?? makeToken()
  let port = options.port
  const server = createServer(makeApp({ engine, delivery, token, port: () => port, webFolder: WEB, log }))
  port = await listen(server, options.port)
  // What an earlier run had committed and not delivered goes out now.
  delivery.wake()
  return {
    url: `http://127.0.0.1:${port}/enter?token=${token}`,
    port,
    database,
    engine,
    close: async () => {
      await new Promise((done) => {
        server.close(done)
        server.closeAllConnections()
      })
      await delivery.rest()
      await engine.close()
    },
  }
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
