import { resolve } from 'node:path'
import { EngineHost, HookError, readFolder, type Drafts } from '@patient-hook/core'

/** The files of the project folder that a command was given. */
export function filesOf(folder: string): Drafts {
  return Object.fromEntries(readFolder(resolve(folder)))
}

/** An engine with the project and a database in memory, holding the project's own data. */
export async function withEngine<T>(folder: string, work: (host: EngineHost) => Promise<T>): Promise<T> {
  const host = new EngineHost()
  try {
    await host.open(filesOf(folder), ':memory:')
    return await work(host)
  } finally {
    await host.close()
  }
}

export function usage(detail: string): HookError {
  return new HookError('request/bad', { detail })
}
