import ts from '#typescript'
import { once } from '../once.js'
import { CONFIG } from './config.js'
import { asyncMessage, asyncParts } from './synchronous.js'

/** The TypeScript service over a project: the same in the command line and in the browser's worker. */

export const DECLARATIONS = '/patient-hook.d.ts'

export interface LanguageFiles {
  /** Text of a project file by its path from the root. */
  text(path: string): string | undefined
  /** Differs whenever the text differs, also from one service of the process to the next. */
  version(path: string): string
  /** Paths of all TypeScript files of the project. */
  paths(): readonly string[]
  declarations(): string
  declarationsVersion(): string
  /** Text of TypeScript's own `lib.*.d.ts`. */
  lib(name: string): string | undefined
}

export interface Diagnostic {
  file: string
  /** From 1. */
  line: number
  column: number
  endLine: number
  endColumn: number
  /** Offsets in the text, from 0. */
  start: number
  end: number
  message: string
  /** TypeScript's number, such as 2322. */
  code: number
  severity: 'error' | 'warning' | 'hint'
}

export const compilerOptions = once((): ts.CompilerOptions => ts.convertCompilerOptionsFromJson(CONFIG, '/').options)

const root = (path: string) => `/${path}`
const LIB = '/lib/'

/**
 * Parsed files, shared by all services of the process: TypeScript's own declarations are read once. A service of the whole
 * project is not disposed of, since the registry would forget them with it.
 */
const registry = once(() => ts.createDocumentRegistry())

export function createService(files: LanguageFiles): ts.LanguageService {
  const read = (name: string): string | undefined => {
    if (name === DECLARATIONS) return files.declarations()
    if (name.startsWith(LIB)) return files.lib(name.slice(LIB.length))
    return files.text(name.slice(1))
  }
  const host: ts.LanguageServiceHost = {
    getCompilationSettings: () => compilerOptions(),
    getScriptFileNames: () => [DECLARATIONS, ...files.paths().map(root)],
    getScriptVersion: (name) =>
      name === DECLARATIONS ? files.declarationsVersion() : name.startsWith(LIB) ? '1' : files.version(name.slice(1)),
    getScriptSnapshot: (name) => {
      const text = read(name)
      return text === undefined ? undefined : ts.ScriptSnapshot.fromString(text)
    },
    getCurrentDirectory: () => '/',
    getDefaultLibFileName: () => `${LIB}lib.es2023.d.ts`,
    fileExists: (name) => read(name) !== undefined,
    readFile: read,
    directoryExists: () => true,
    getDirectories: () => [],
    useCaseSensitiveFileNames: () => true,
  }
  return ts.createLanguageService(host, registry())
}

/** What TypeScript says of a file: syntax first, then types. */
export function diagnose(service: ts.LanguageService, path: string): Diagnostic[] {
  return diagnoseAll(service, [path])
}

/** The same of many: a service that is asked for one file after the other looks each time whether any file has changed. */
export function diagnoseAll(service: ts.LanguageService, paths: readonly string[]): Diagnostic[] {
  const program = service.getProgram()
  return program ? paths.flatMap((path) => diagnoseIn(program, path)) : []
}

function diagnoseIn(program: ts.Program, path: string): Diagnostic[] {
  const source = program.getSourceFile(root(path))
  if (!source) return []
  const syntax = program.getSyntacticDiagnostics(source)
  const told = syntax.length > 0 ? syntax : program.getSemanticDiagnostics(source)
  const synchronous = asyncParts(source).map(({ node, what }): ts.Diagnostic => ({
    file: source,
    start: node.getStart(source),
    length: node.getWidth(source),
    messageText: asyncMessage(what),
    category: ts.DiagnosticCategory.Error,
    code: NOT_SYNCHRONOUS,
  }))
  return [...synchronous, ...told].map((each) => toDiagnostic(path, source, each)).filter((each) => each !== null)
}

/** Ours: TypeScript's own numbers are below 100,000. */
export const NOT_SYNCHRONOUS = 100_001

function toDiagnostic(path: string, source: ts.SourceFile, each: ts.Diagnostic): Diagnostic | null {
  const start = each.start ?? 0
  const end = start + (each.length ?? 0)
  const [from, to] = [source.getLineAndCharacterOfPosition(start), source.getLineAndCharacterOfPosition(end)]
  const severity =
    each.category === ts.DiagnosticCategory.Error ? 'error' : each.category === ts.DiagnosticCategory.Warning ? 'warning' : 'hint'
  return {
    file: path,
    line: from.line + 1,
    column: from.character + 1,
    endLine: to.line + 1,
    endColumn: to.character + 1,
    start,
    end,
    message: ts.flattenDiagnosticMessageText(each.messageText, '\n'),
    code: each.code,
    severity,
  }
}
