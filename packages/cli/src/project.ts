import { resolve } from 'node:path'
import type { Files } from '@patient-hook/contract'
import { HookError, openWorkbench, readFolder, type TryEngines } from '@patient-hook/core'

/** The files of the project folder that a command was given. @throws HookError */
export function filesOf(folder: string): Files {
  return Object.fromEntries(readFolder(resolve(folder)))
}

/** Engines over the project's files; records are those of its data/. */
export async function withWorkbench<T>(folder: string, work: (engines: TryEngines) => Promise<T>, size?: number): Promise<T> {
  const engines = openWorkbench(filesOf(folder), {}, size)
  try {
    return await work(engines)
  } finally {
    await engines.close()
  }
}

export function usage(detail: string): HookError {
  return new HookError('request/bad', { detail })
}
