import { existsSync } from 'node:fs'
import { resolve } from 'node:path'
import type { Files } from '@patient-hook/contract'
import type { Application, EngineLimits, Restored } from '@patient-hook/core'
import { forgetCommits, lockFolder, openApplication } from '@patient-hook/core/workbench'
import { prepareFolder } from './folder.js'
import type { MessageService } from './services/post-room.js'

/** What starts and ends an application. Engines are started first: what serves it (serving.ts) is loaded while they open its file. */

export interface ServerOptions {
  /** The project's files, asked for only when the database has none. */
  files: () => Files
  dataFolder: string
  /** A backup that replaces the records first. */
  restore?: string
  /** A project folder that is kept the same as the working copy. */
  link?: string
  /** Go on although the database has lost what was answered. */
  acceptLoss?: boolean
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
  /** The link that lets the next browser in; another one once it was used. */
  readonly url: string
  port: number
  database: string
  /** What became of the backup that was restored; null where none was. */
  restored: Restored | null
  application: Application
  close(): Promise<void>
}

/** @throws HookError where the folder is served already, or its database or the files cannot be used; nothing is left running then */
export async function startServer(options: ServerOptions): Promise<RunningServer> {
  const folder = resolve(options.dataFolder)
  const lock = lockFolder(folder)
  const undo: Undo = [() => lock.release()]
  try {
    const data = prepareFolder(folder, options.fresh)
    if (options.acceptLoss) forgetCommits(data.database)
    const done = options.restore === undefined ? null : await restored(folder, options.restore, data.database)
    const opening = openApplication(data.database, options.files, options.limits)
    const [application, { serveApplication }] = await Promise.all([opening, import('./serving.js')])
    undo.push(() => application.close())
    const { link, port } = await serveApplication(application, options, { folder, data, lock, undo })
    return {
      get url() {
        return link()
      },
      port,
      database: data.database,
      restored: done,
      application,
      close: () => undoAll(undo),
    }
  } catch (error) {
    await undoAll(undo)
    throw error
  }
}

/** What has to be done to end it, in the opposite order. */
export type Undo = (() => Promise<void> | void)[]

async function undoAll(steps: Undo): Promise<void> {
  for (const step of steps.splice(0).reverse()) await step()
}

/** A backup may be named by its path, or relative to the data folder. */
async function restored(folder: string, file: string, database: string): Promise<Restored> {
  const { restoreBackup } = await import('@patient-hook/core')
  const backup = existsSync(resolve(file)) || !existsSync(resolve(folder, file)) ? resolve(file) : resolve(folder, file)
  return restoreBackup(backup, database)
}
