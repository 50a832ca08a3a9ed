import ts from '#typescript'
import { HookError } from '../errors.js'
import { asyncParts } from '../language/synchronous.js'
import { LINE_BITS } from '../watch.js'
import { cover, type CoveredText } from './cover.js'
import { instrument } from './instrument.js'
import { mayKeepState } from './module-state.js'
import { addProbes } from './probe.js'
import { onlyReadsRows, touchedFields, touchedFieldsOfRows, writtenFields } from './written-fields.js'

/** Compiles one TypeScript module of a plugin to a function's source, with a source map and the places of its parts. */

/** `probed` code is recorded line by line; `counted` code counts its statements and branches. */
export type Equipment = 'plain' | 'probed' | 'counted'

export interface CompiledModule {
  file: string
  code: string
  /** The names by which the code finds what counts its steps; no identifier of the text is one of them. */
  names: EngineNames
  /** JSON of a source map, for the lines of `code`. */
  map: string
  /** Lines of the properties of the literal given to defineHook, from 1. */
  parts: ReadonlyMap<string, number>
  imports: readonly { module: string; line: number }[]
  /** Fields that `only` and `each` can write; null where that cannot be known. */
  writes: ReadonlySet<string> | null
  /** Fields that the hook's functions can look at or write; null where that cannot be known. */
  touches: ReadonlySet<string> | null
  /** `load` only reads the rows it is given; false where that cannot be known. */
  loadReads: boolean
  /** What `only` asks, as it is written, in one line; empty without one. */
  guard: string
  /** It may keep something from one call to the next. */
  keepsState: boolean
  /** What there is to count, and by which name the code finds the counters; only of counted code. */
  counted: Pick<CoveredText, 'counters' | 'data'> | null
}

/** What the engine puts into a module's code, by its name there. */
export interface EngineNames {
  /** The meter: `{ n, m, stop() }`. */
  meter: string
  /** The cells, whose first holds the place: module number × 2^18 + line. */
  place: string
  probe: string
}

/** Names that the text does not use: what it cannot name, it cannot reach, whether or not somebody knows them. */
function namesFor(source: ts.SourceFile): EngineNames {
  const used = new Set<string>()
  const look = (node: ts.Node): void => {
    if (ts.isIdentifier(node)) used.add(node.text)
    ts.forEachChild(node, look)
  }
  look(source)
  const free = (name: string) => {
    while (used.has(name)) name += '_'
    return name
  }
  return { meter: free('$meter'), place: free('$place'), probe: free('$probe') }
}

/** Deeper code than any people write; the compiler's own recursion would end on more. */
const DEEPEST = 1000

/** @throws HookError compile/too-deep */
function checkDepth(file: string, source: ts.SourceFile): void {
  const waiting: [ts.Node, number][] = [[source, 0]]
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const [node, depth] = next
    if (depth > DEEPEST)
      throw new HookError('compile/too-deep', {
        file,
        line: source.getLineAndCharacterOfPosition(node.getStart(source)).line + 1,
        limit: DEEPEST,
      })
    ts.forEachChild(node, (child) => void waiting.push([child, depth + 1]))
  }
}

/** @throws HookError compile/syntax or compile/too-deep */
function parse(file: string, text: string): ts.SourceFile {
  try {
    const source = ts.createSourceFile(file, text, ts.ScriptTarget.ES2022, true)
    checkDepth(file, source)
    return source
  } catch (error) {
    if (error instanceof RangeError) throw new HookError('compile/too-deep', { file, limit: DEEPEST })
    throw error
  }
}

/**
 * @throws HookError for a syntax error or an import that cannot be, with file and line
 */
export function compileModule(file: string, text: string, moduleNumber: number, equipment: Equipment = 'plain'): CompiledModule {
  const source = parse(file, text)
  const names = namesFor(source)
  const lineOf = (node: ts.Node) => source.getLineAndCharacterOfPosition(node.getStart(source)).line + 1
  const imports: { module: string; line: number }[] = []
  const parts = new Map<string, number>()
  let writes: CompiledModule['writes'] = null
  let touches: CompiledModule['touches'] = null
  let loadReads = false
  let guard = ''
  const look = (node: ts.Node): void => {
    if (
      (ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) &&
      node.moduleSpecifier &&
      ts.isStringLiteral(node.moduleSpecifier)
    ) {
      const typeOnly = ts.isImportDeclaration(node) ? node.importClause?.isTypeOnly : node.isTypeOnly
      if (!typeOnly) imports.push({ module: node.moduleSpecifier.text, line: lineOf(node) })
    }
    if (ts.isCallExpression(node) && node.expression.kind === ts.SyntaxKind.ImportKeyword)
      throw new HookError('compile/dynamic-import', { file, line: lineOf(node) })
    if (ts.isCallExpression(node) && ts.isIdentifier(node.expression) && node.expression.text === 'eval')
      throw new HookError('hook/unavailable', { file, line: lineOf(node), name: 'eval', instead: 'Write the code itself.' })
    if (ts.isMetaProperty(node) && node.keywordToken === ts.SyntaxKind.ImportKeyword)
      throw new HookError('hook/unavailable', { file, line: lineOf(node), name: 'import.meta', instead: 'Take it out.' })
    const call = ts.isCallExpression(node) ? node : undefined
    const argument = call?.arguments[0]
    if (
      call &&
      ts.isIdentifier(call.expression) &&
      call.expression.text === 'defineHook' &&
      argument &&
      ts.isObjectLiteralExpression(argument)
    ) {
      parts.set('', lineOf(call))
      for (const property of argument.properties)
        if (property.name && (ts.isIdentifier(property.name) || ts.isStringLiteral(property.name)))
          parts.set(property.name.text, lineOf(property))
      writes = writesOf(argument)
      touches = touchesOf(argument)
      loadReads = isPlain(argument) && onlyReadsRows(argument.properties.find((each) => each.name?.getText() === 'load'))
      guard = guardOf(argument)
    }
    ts.forEachChild(node, look)
  }
  look(source)
  const [asynchronous] = asyncParts(source)
  if (asynchronous) throw new HookError('hook/async', { file, line: lineOf(asynchronous.node), what: asynchronous.what })
  const hasErrors = (source as unknown as { parseDiagnostics: unknown[] }).parseDiagnostics.length > 0
  const covered = equipment === 'counted' && !hasErrors ? cover(file, text) : null
  const equipped =
    equipment === 'probed' ? addProbes(file, text, names.probe, moduleNumber * 2 ** LINE_BITS) : (covered?.text ?? text)
  const output = ts.transpileModule(equipped, {
    fileName: file,
    reportDiagnostics: true,
    compilerOptions: {
      target: ts.ScriptTarget.ES2022,
      module: ts.ModuleKind.CommonJS,
      sourceMap: true,
      removeComments: true,
      esModuleInterop: true,
      importHelpers: false,
      verbatimModuleSyntax: false,
      isolatedModules: true,
    },
    transformers: { before: [instrument(names, moduleNumber, covered?.lineAt)] },
  })
  const wrong = output.diagnostics?.find((each) => each.category === ts.DiagnosticCategory.Error)
  if (wrong) {
    const at = wrong.start === undefined ? undefined : source.getLineAndCharacterOfPosition(wrong.start)
    throw new HookError('compile/syntax', {
      file,
      line: (at?.line ?? 0) + 1,
      column: (at?.character ?? 0) + 1,
      detail: ts.flattenDiagnosticMessageText(wrong.messageText, '\n'),
    })
  }
  const code = evade(output.outputText.replace(/\n\/\/# sourceMappingURL=.*\s*$/, '\n'))
  return {
    file,
    code,
    names,
    map: covered ? covered.mapFrom(output.sourceMapText!) : (output.sourceMapText ?? '{}'),
    parts,
    imports,
    writes,
    touches,
    loadReads,
    guard,
    keepsState: mayKeepState(source),
    counted: covered && { counters: covered.counters, data: covered.data },
  }
}

/** Longer guards are cut: they are for a reader's eye. */
const GUARD_LENGTH = 120

function guardOf(definition: ts.ObjectLiteralExpression): string {
  const only = definition.properties.find((each) => each.name && ts.isIdentifier(each.name) && each.name.text === 'only')
  if (!only) return ''
  const fn = ts.isPropertyAssignment(only) ? only.initializer : only
  const isFn = ts.isArrowFunction(fn) || ts.isFunctionExpression(fn) || ts.isMethodDeclaration(fn)
  const text = (isFn && fn.body ? fn.body : fn).getText().replace(/\s+/g, ' ')
  return text.length > GUARD_LENGTH ? `${text.slice(0, GUARD_LENGTH - 1)}…` : text
}

/** Parts that are spread in, or named by an expression, are not what the syntax shows. */
const isPlain = (definition: ts.ObjectLiteralExpression): boolean =>
  !definition.properties.some((each) => ts.isSpreadAssignment(each) || (each.name && ts.isComputedPropertyName(each.name)))

function writesOf(definition: ts.ObjectLiteralExpression): CompiledModule['writes'] {
  const part = (name: string) => definition.properties.find((each) => each.name?.getText() === name)
  if (!isPlain(definition)) return null
  const only = part('only')
  const written = writtenFields(part('each'))
  if (written === null || (only && writtenFields(only)?.size !== 0)) return null
  return written
}

function touchesOf(definition: ts.ObjectLiteralExpression): CompiledModule['touches'] {
  if (!isPlain(definition)) return null
  const touched = new Set<string>()
  for (const [name, fieldsOf] of [
    ['only', touchedFields],
    ['load', touchedFieldsOfRows],
    ['each', touchedFields],
    ['finish', touchedFieldsOfRows],
  ] as const) {
    const part = definition.properties.find((each) => each.name?.getText() === name)
    const fields = part ? fieldsOf(part) : []
    if (!fields) return null
    for (const field of fields) touched.add(field)
  }
  return touched
}

const SUSPECT = /import\s*\(|eval\s*\(|<!--|-->/

/**
 * The sandbox refuses source text that looks like import(), eval() or an HTML comment, even within a string. The syntax tree
 * has shown that there is none in the code, so what is left stands in text: it is written with escapes.
 */
function evade(code: string): string {
  if (!SUSPECT.test(code)) return code
  const scanned = ts.createSourceFile('x.js', code, ts.ScriptTarget.ES2022, true)
  const edits: [number, number, string][] = []
  const look = (node: ts.Node): void => {
    const isText =
      ts.isStringLiteral(node) ||
      ts.isRegularExpressionLiteral(node) ||
      ts.isNoSubstitutionTemplateLiteral(node) ||
      ts.isTemplateHead(node) ||
      ts.isTemplateMiddle(node) ||
      ts.isTemplateTail(node)
    if (isText && SUSPECT.test(node.getText(scanned))) {
      const text = node.getText(scanned)
      const safe = text
        .replace(/import(?=\s*\()/g, '\\x69mport')
        .replace(/eval(?=\s*\()/g, '\\x65val')
        .replace(/<!--/g, '\\x3c!--')
        .replace(/-->/g, '--\\x3e')
      edits.push([node.getStart(scanned), node.getEnd(), safe])
    }
    ts.forEachChild(node, look)
  }
  look(scanned)
  for (const [start, end, safe] of edits.sort((a, b) => b[0] - a[0])) code = code.slice(0, start) + safe + code.slice(end)
  return code
}
