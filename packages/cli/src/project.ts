import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import type { Files } from '@patient-hook/contract'
import { makeFolder, openWorkbench, readFolder, type TryEngines } from '@patient-hook/core/workbench'
import { usage } from './output.js'

/** The files of the project folder that a command was given. @throws HookError */
export function filesOf(folder: string): Files {
  return Object.fromEntries(readFolder(resolve(folder)))
}

/** What an editor needs beside the project's files, by path. @throws HookError where the project's files are wrong */
async function editorTexts(files: Files): Promise<ReadonlyMap<string, string>> {
  const { editorFiles, parseProject } = await import('@patient-hook/core')
  // What is wrong with records is no matter of types; names of fixture sets are.
  const blank = (path: string) => (path.endsWith('.csv') ? '' : '[]')
  const code = Object.entries(withoutData(files)).map(
    ([path, text]) => [path, path.startsWith('fixtures/') ? blank(path) : text] as const,
  )
  return editorFiles(parseProject(new Map(code)))
}

/**
 * Writes what an editor needs; an editor's options that somebody has changed stay as they are.
 * @returns the paths that were written @throws HookError where the project's files are wrong
 */
export async function writeEditorFiles(root: string, files: Files): Promise<string[]> {
  const { TSCONFIG_FILE } = await import('@patient-hook/core')
  const written: string[] = []
  for (const [path, text] of await editorTexts(files)) {
    const target = join(root, path)
    if (existsSync(target) && (path === TSCONFIG_FILE || readFileSync(target, 'utf8') === text)) continue
    makeFolder(dirname(target))
    writeFileSync(target, text)
    written.push(path)
  }
  return written
}

/**
 * @returns the path of the declarations in a folder when they are not those of its tables and hooks, or missing; null when they are current
 * @throws HookError where the project's files are wrong
 */
export async function staleDeclarations(root: string, files: Files): Promise<string | null> {
  const { TYPES_FILE } = await import('@patient-hook/core')
  const target = join(root, TYPES_FILE)
  const current = existsSync(target) && readFileSync(target, 'utf8') === (await editorTexts(files)).get(TYPES_FILE)
  return current ? null : TYPES_FILE
}

/** The records in the application's folder. @throws HookError where there are none */
export function databaseIn(folder: string): string {
  const database = resolve(folder, 'records.db')
  if (!existsSync(database)) throw usage(`--data ${folder}: there is no ${database}; name the folder that serve --data was given`)
  return database
}

/** Tests and proofs start from fixture sets: the records of data/ need not be read. */
const withoutData = (files: Files): Files =>
  Object.fromEntries(Object.entries(files).filter(([path]) => !path.startsWith('data/')))

/** Engines over the project's files. @param options `data`: the application's folder, of whose records a copy is used; default: data/ */
export async function withWorkbench<T>(
  folder: string,
  work: (engines: TryEngines, files: Files) => Promise<T>,
  options: {
    size?: number
    data?: string
    /** Nothing is done with records but those of fixture sets. */
    proves?: boolean
  } = {},
): Promise<T> {
  const { data, proves = false, size } = options
  const files = proves ? withoutData(filesOf(folder)) : filesOf(folder)
  const engines = openWorkbench(files, { size, database: data === undefined ? null : databaseIn(data) })
  try {
    return await work(engines, files)
  } finally {
    await engines.close()
  }
}
