import ts from 'typescript'
import { HookError } from '../errors.js'
import { instrument, LINE_BITS, type MeterNames } from './instrument.js'
import { addProbes } from './probe.js'
import { onlyReadsRows, writtenFields } from './written-fields.js'

/** Compiles one TypeScript module of a plugin to a function's source, with a source map and the places of its parts. */

export interface CompiledModule {
  file: string
  code: string
  /** JSON of a source map, for the lines of `code`. */
  map: string
  /** Lines of the properties of the literal given to defineHook, from 1. */
  parts: ReadonlyMap<string, number>
  imports: readonly { module: string; line: number }[]
  /** Fields that `only` and `each` can write; null where that cannot be known. */
  writes: ReadonlySet<string> | null
  /** `load` only reads the rows it is given; false where that cannot be known. */
  loadReads: boolean
  /** What `only` asks, as it is written, in one line; empty without one. */
  guard: string
}

/**
 * @param probe the name of the probe, for code that is recorded
 * @throws HookError for a syntax error or an import that cannot be, with file and line
 */
export function compileModule(
  file: string,
  text: string,
  names: MeterNames,
  moduleNumber: number,
  probe: string | null = null,
): CompiledModule {
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.ES2022, true)
  const lineOf = (node: ts.Node) => source.getLineAndCharacterOfPosition(node.getStart(source)).line + 1
  const imports: { module: string; line: number }[] = []
  const parts = new Map<string, number>()
  let writes: CompiledModule['writes'] = null
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
      loadReads = isPlain(argument) && onlyReadsRows(argument.properties.find((each) => each.name?.getText() === 'load'))
      guard = guardOf(argument)
    }
    ts.forEachChild(node, look)
  }
  look(source)
  const probed = probe === null ? text : addProbes(file, text, probe, moduleNumber * 2 ** LINE_BITS)
  const output = ts.transpileModule(probed, {
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
    transformers: { before: [instrument(names, moduleNumber)] },
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
  return { file, code, map: output.sourceMapText ?? '{}', parts, imports, writes, loadReads, guard }
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
