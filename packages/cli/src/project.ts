import { existsSync } from 'node:fs'
import { resolve } from 'node:path'
import type { Files } from '@patient-hook/contract'
import { openWorkbench, readFolder, type TryEngines } from '@patient-hook/core/workbench'
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

/** Few test files are run sooner by one engine: a second one takes longer to start than they do. */
const FEW_TESTS = 24
export const enginesForTests = (files: Files): number | undefined =>
  Object.keys(files).filter((path) => path.endsWith('.test.ts')).length <= FEW_TESTS ? 1 : undefined

/** Tests and proofs start from fixture sets: the records of data/ need not be read. */
const withoutData = (files: Files): Files =>
  Object.fromEntries(Object.entries(files).filter(([path]) => !path.startsWith('data/')))

/** Engines over the project's files. @param options `data`: the application's folder, of whose records a copy is used; default: data/ */
export async function withWorkbench<T>(
  folder: string,
  work: (engines: TryEngines, files: Files) => Promise<T>,
  options: {
    size?: number | ((files: Files) => number | undefined)
    data?: string
    /** Nothing is done with records but those of fixture sets. */
    proves?: boolean
  } = {},
): Promise<T> {
  const { data, proves = false } = options
  const files = proves ? withoutData(filesOf(folder)) : filesOf(folder)
  const size = typeof options.size === 'function' ? options.size(files) : options.size
  const engines = openWorkbench(files, { size, database: data === undefined ? null : databaseIn(data) })
  try {
    return await work(engines, files)
  } finally {
    await engines.close()
  }
}
