import { existsSync } from 'node:fs'
import { resolve } from 'node:path'
import type { Files } from '@patient-hook/contract'
import { openWorkbench, readFolder, type TryEngines } from '@patient-hook/core'
import { usage } from './output.js'

/** The files of the project folder that a command was given. @throws HookError */
export function filesOf(folder: string): Files {
  return Object.fromEntries(readFolder(resolve(folder)))
}

/** The records in the application's folder. @throws HookError where there are none */
function databaseIn(folder: string): string {
  const database = resolve(folder, 'records.db')
  if (!existsSync(database)) throw usage(`--data ${folder}: there is no ${database}; name the folder that serve --data was given`)
  return database
}

/** Engines over the project's files. @param options `data`: the application's folder, of whose records a copy is used; default: data/ */
export async function withWorkbench<T>(
  folder: string,
  work: (engines: TryEngines, files: Files) => Promise<T>,
  options: { size?: number; data?: string } = {},
): Promise<T> {
  const { size, data } = options
  const files = filesOf(folder)
  const engines = openWorkbench(files, { size, database: data === undefined ? null : databaseIn(data) })
  try {
    return await work(engines, files)
  } finally {
    await engines.close()
  }
}
