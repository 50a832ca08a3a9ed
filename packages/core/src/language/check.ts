import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import type ts from '#typescript'
import { declarations } from '../model/declarations.js'
import type { Project } from '../model/types.js'
import { beginCompiler } from './compiler.js'
import { createService, diagnoseAll, type Diagnostic } from './service.js'
import { treeOf } from '../syntax-tree.js'
import { asyncParts } from './synchronous.js'
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

/** A service over a project as it stands; a text is its own version. @param paths of its code, where not all of it is wanted */
export function serviceOf(project: Project, paths: readonly string[] = codeOf(project)): ts.LanguageService {
  const text = declarations(project)
  return createService({
    text: (path) => project.files.get(path),
    version: (path) => project.files.get(path) ?? '',
    paths: () => paths,
    declarations: () => text,
    declarationsVersion: () => text,
    lib: nodeLib,
  })
}

const codeOf = (project: Project): string[] => [...project.files.keys()].filter(isCode)

export const checkTypes = (project: Project): Diagnostic[] => beginTypes(project)()

/** Begins to check the types of a project: other work may go on until the answer is asked for. */
export function beginTypes(project: Project): () => Diagnostic[] {
  const paths = codeOf(project)
  const well = new WellTyped(new Map(paths.map((path) => [path, project.files.get(path)!])), declarations(project))
  const doubtful = paths.filter((path) => !well.isKnown(path))
  if (doubtful.length === 0) return () => []
  const asked = new Set(doubtful.filter((path) => well.reached(path) !== null && isSynchronous(path, project.files.get(path)!)))
  const faulty = beginCompiler({ files: textsOf(project, well, asked), declarations: declarations(project) })
  return () => {
    const answer = faulty()
    const left = answer ? doubtful.filter((path) => !asked.has(path) || answer.has(path)) : doubtful
    const diagnostics = left.length > 0 ? diagnoseAll(serviceOf(project, rootsOf(project, well, left)), left) : []
    const wrong = new Set(diagnostics.map(({ file }) => file))
    for (const path of doubtful) if (!wrong.has(path)) well.note(path)
    return diagnostics
  }
}

/** By a rule of our own, which the compiler does not know. */
function isSynchronous(path: string, text: string): boolean {
  if (!/async|await|Promise|\\u/.test(text)) return true
  try {
    return asyncParts(treeOf(path, text)).length === 0
  } catch {
    // It lies deeper than the parser’s recursion goes.
    return false
  }
}

/** The files that these reach, and themselves. */
function textsOf(project: Project, well: WellTyped, paths: Iterable<string>): Map<string, string> {
  const texts = new Map<string, string>()
  for (const path of paths)
    for (const each of well.reached(path) ?? []) {
      const text = project.files.get(each)
      if (text !== undefined) texts.set(each, text)
    }
  return texts
}

/** All code, where one of these may depend on any of it. */
const rootsOf = (project: Project, well: WellTyped, paths: readonly string[]): string[] =>
  paths.some((path) => well.reached(path) === null) ? codeOf(project) : [...textsOf(project, well, paths).keys()]
