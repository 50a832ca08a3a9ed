import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import type ts from '#typescript'
import { declarations } from '../model/declarations.js'
import type { Project } from '../model/types.js'
import { createService, diagnoseAll, type Diagnostic } from './service.js'
import { WellTyped } from './well-typed.js'

/** The types of a whole project, checked at once: for the command line and before a release. */

const libs = new Map<string, string | undefined>()

/** TypeScript's own declarations, from the installed package. */
export function nodeLib(name: string): string | undefined {
  if (!libs.has(name)) {
    const folder = dirname(createRequire(import.meta.url).resolve('typescript'))
    try {
      libs.set(name, readFileSync(join(folder, name), 'utf8'))
    } catch {
      libs.set(name, undefined)
    }
  }
  return libs.get(name)
}

export const isCode = (path: string): boolean => /^plugins\/.+\.ts$/.test(path)

/** A service over a project as it stands; a text is its own version. */
export function serviceOf(project: Project): ts.LanguageService {
  const text = declarations(project)
  const paths = [...project.files.keys()].filter(isCode)
  return createService({
    text: (path) => project.files.get(path),
    version: (path) => project.files.get(path) ?? '',
    paths: () => paths,
    declarations: () => text,
    declarationsVersion: () => text,
    lib: nodeLib,
  })
}

export function checkTypes(project: Project): Diagnostic[] {
  const paths = [...project.files.keys()].filter(isCode)
  const well = new WellTyped(new Map(paths.map((path) => [path, project.files.get(path)!])), declarations(project))
  const doubtful = paths.filter((path) => !well.isKnown(path))
  if (doubtful.length === 0) return []
  const diagnostics = diagnoseAll(serviceOf(project), doubtful)
  const faulty = new Set(diagnostics.map(({ file }) => file))
  for (const path of doubtful) if (!faulty.has(path)) well.note(path)
  return diagnostics
}
