import ts from '#typescript'
import { HookError } from '../errors.js'
import { once } from '../once.js'
import { nodesOf, treeOf } from '../syntax-tree.js'
import { asyncParts } from '../language/synchronous.js'
import { cover, type CoveredText } from './cover.js'
import { NO_PARTS, partsOf, type DefinitionParts } from './definition-parts.js'
import { asJavaScript, makeCode, type EngineNames, type ModuleCode } from './javascript.js'
import { stateOf, type ModuleState } from './module-state.js'

/** Compiles one TypeScript module of a plugin to a function's source, with what its syntax tells of it and the places of its parts. */

/** `probed` code is recorded line by line; `counted` code counts its statements and branches. */
export type Equipment = 'plain' | 'probed' | 'counted'

export interface CompiledModule extends ModuleCode, DefinitionParts, ModuleState {
  file: string
  /** Lines of the properties of the literal given to defineHook, from 1. */
  parts: ReadonlyMap<string, number>
  imports: readonly { module: string; line: number }[]
  /** What there is to count, and by which name the code finds the counters; only of counted code. */
  counted: Pick<CoveredText, 'counters' | 'data'> | null
}

/** Names that the text does not use: what it cannot name, it cannot reach, whether or not somebody knows them. */
function namesFor(source: ts.SourceFile): EngineNames {
  const used = new Set(nodesOf(source).nodes.map((node) => (ts.isIdentifier(node) ? node.text : '')))
  const free = (name: string) => {
    while (used.has(name)) name += '_'
    return name
  }
  return {
    meter: free('$meter'),
    place: free('$place'),
    probe: free('$probe'),
    seal: free('$seal'),
    exports: free('$exports'),
    require: free('$require'),
  }
}

/** Deeper code than any people write; the compiler's own recursion would end on more. */
const DEEPEST = 1000

/** @throws HookError compile/too-deep */
function checkDepth(file: string, source: ts.SourceFile): void {
  const { node, depth } = nodesOf(source).deepest
  if (depth > DEEPEST)
    throw new HookError('compile/too-deep', {
      file,
      line: source.getLineAndCharacterOfPosition(node.getStart(source)).line + 1,
      limit: DEEPEST,
    })
}

/** @throws HookError compile/syntax or compile/too-deep */
function parse(file: string, text: string): ts.SourceFile {
  try {
    const source = treeOf(file, text)
    checkDepth(file, source)
    return source
  } catch (error) {
    if (error instanceof RangeError) throw new HookError('compile/too-deep', { file, limit: DEEPEST })
    throw error
  }
}

/** @throws HookError for a syntax error or an import that cannot be, with file and line */
export const compileModule = (file: string, text: string, moduleNumber: number, equipment: Equipment = 'plain'): CompiledModule =>
  compileModules(file, text, moduleNumber, [equipment])[0]!

/** The same in several ways, of one tree. @throws HookError as compileModule */
export function compileModules(
  file: string,
  text: string,
  moduleNumber: number,
  equipments: readonly Equipment[],
): CompiledModule[] {
  const source = parse(file, text)
  const names = namesFor(source)
  const lineOf = (node: ts.Node) => source.getLineAndCharacterOfPosition(node.getStart(source)).line + 1
  const imports: { module: string; line: number }[] = []
  const parts = new Map<string, number>()
  let definition = NO_PARTS
  let definitions = 0
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
      throw new HookError('hook/unavailable', { file, line: lineOf(node), name: 'import.meta', instead: 'Remove it.' })
    const call = ts.isCallExpression(node) ? node : undefined
    const argument = call?.arguments[0]
    if (
      call &&
      ts.isIdentifier(call.expression) &&
      call.expression.text === 'defineHook' &&
      argument &&
      ts.isObjectLiteralExpression(argument)
    ) {
      definitions++
      parts.set('', lineOf(call))
      for (const property of argument.properties)
        if (property.name && (ts.isIdentifier(property.name) || ts.isStringLiteral(property.name)))
          parts.set(property.name.text, lineOf(property))
      definition = partsOf(argument)
    }
  }
  nodesOf(source).nodes.forEach(look)
  checkEscapes(file, source)
  const [asynchronous] = asyncParts(source)
  if (asynchronous) throw new HookError('hook/async', { file, line: lineOf(asynchronous.node), what: asynchronous.what })
  checkSyntax(file, source)
  // With another name for the function, or a second definition, it is not certain which of them the hook is.
  if (definitions !== 1 || countNamed(source, 'defineHook') !== 2) definition = NO_PARTS
  const state = stateOf(source)
  const bareSource = once(() => asJavaScript(source, names))
  return equipments.map((equipment) => {
    const covered = equipment === 'counted' ? cover(file, text) : null
    const of = covered ? parse(file, covered.text) : source
    const bare = covered ? asJavaScript(of, names) : bareSource()
    return {
      file,
      ...makeCode(of, bare, names, moduleNumber, equipment === 'probed', covered),
      parts,
      imports,
      ...definition,
      ...state,
      counted: covered && { counters: covered.counters, data: covered.data },
    }
  })
}

const countNamed = (source: ts.SourceFile, name: string): number =>
  nodesOf(source).nodes.filter((node) => (ts.isIdentifier(node) || ts.isStringLiteralLike(node)) && node.text === name).length

/** An escape in a name hides what the code reaches for, and some of them end V8. @throws HookError compile/syntax */
function checkEscapes(file: string, source: ts.SourceFile): void {
  if (!source.text.includes('\\u')) return
  const wrong = nodesOf(source).nodes.find(
    (node) => (ts.isIdentifier(node) || ts.isPrivateIdentifier(node)) && node.getText(source).includes('\\'),
  )
  if (!wrong) return
  const at = source.getLineAndCharacterOfPosition(wrong.getStart(source))
  const place = { file, line: at.line + 1, column: at.character + 1 }
  throw new HookError('compile/syntax', {
    ...place,
    detail: `the name ${wrong.getText(source)} has an escape in it: write the letter itself`,
  })
}

/** @throws HookError compile/syntax */
function checkSyntax(file: string, source: ts.SourceFile): void {
  const [wrong] = (source as unknown as { parseDiagnostics: ts.Diagnostic[] }).parseDiagnostics
  if (!wrong) return
  const at = source.getLineAndCharacterOfPosition(wrong.start ?? 0)
  throw new HookError('compile/syntax', {
    file,
    line: at.line + 1,
    column: at.character + 1,
    detail: ts.flattenDiagnosticMessageText(wrong.messageText, '\n'),
  })
}
