import ts from '#typescript'
import type { Argument, FunctionCall } from '@patient-hook/contract'
import type { Called } from '../function-call.js'
import { textCode, valueCode } from './value-code.js'
import { treeOf } from '../../syntax-tree.js'

/** The code of a unit test that calls a function, and expects what came. */

/** @throws HookError rehearse/cannot-keep where what came cannot be written down */
export function functionTestCode(test: string, { file, name, args }: FunctionCall, called: Called): string {
  const module = `../lib/${file.replace(/^plugins\/[^/]+\/lib\//, '').replace(/\.ts$/, '')}`
  const isDefault = name === 'default'
  const local = isDefault ? 'called' : name
  const call = `${local}(${args.map(argumentCode).join(', ')})`
  return [
    `import { expect, test } from 'patient-hook/test'`,
    `import ${isDefault ? local : `{ ${name} }`} from ${textCode(module)}`,
    '',
    `test(${textCode(test)}, () => {`,
    `  ${called.error ? `expect(() => ${call}).toThrow(${textCode(thrownText(called.error.message))})` : expectation(call, called.value)}`,
    '})',
    '',
  ].join('\n')
}

/** Without the kind of error, which is no part of its message. */
const thrownText = (message: string) => message.replace(/^\w*Error: /, '')

function argumentCode({ value, as }: Argument): string {
  if (as === 'map') return `new Map(${valueCode(value)})`
  return as === 'set' ? `new Set(${valueCode(value)})` : valueCode(value)
}

function expectation(call: string, value: unknown): string {
  if (value === undefined) return `expect(${call}).toBeUndefined()`
  if (typeof value === 'number' && Number.isNaN(value)) return `expect(${call}).toBeNaN()`
  const matcher = value !== null && typeof value === 'object' ? 'toEqual' : 'toBe'
  return `expect(${call}).${matcher}(${valueCode(value)})`
}

/** The module with one function that does something else: it throws; or gives null where it is expected to throw. */
export function withoutFunction(file: string, text: string, name: string, throws: boolean): string {
  const source = treeOf(file, text)
  const body = bodyOf(source, localName(source, name))
  if (!body) return text
  const does = throws ? '{ return null as never }' : `{ throw new Error('removed') }`
  return text.slice(0, body.getStart(source)) + does + text.slice(body.getEnd())
}

/** `export { here as name }` names it otherwise. */
function localName(source: ts.SourceFile, name: string): string {
  for (const statement of source.statements) {
    if (!ts.isExportDeclaration(statement) || statement.moduleSpecifier || !statement.exportClause) continue
    if (!ts.isNamedExports(statement.exportClause)) continue
    const specifier = statement.exportClause.elements.find((each) => each.name.text === name)
    if (specifier) return specifier.propertyName?.text ?? name
  }
  return name
}

function bodyOf(source: ts.SourceFile, name: string): ts.Node | undefined {
  for (const statement of source.statements) {
    if (ts.isFunctionDeclaration(statement)) {
      const isDefault = statement.modifiers?.some((each) => each.kind === ts.SyntaxKind.DefaultKeyword) ?? false
      if (statement.name?.text === name || (name === 'default' && isDefault)) return statement.body
    }
    if (ts.isExportAssignment(statement) && name === 'default') return functionBody(statement.expression)
    if (!ts.isVariableStatement(statement)) continue
    for (const { name: bound, initializer } of statement.declarationList.declarations)
      if (ts.isIdentifier(bound) && bound.text === name) return initializer && functionBody(initializer)
  }
  return undefined
}

const functionBody = (node: ts.Expression): ts.Node | undefined =>
  ts.isArrowFunction(node) || ts.isFunctionExpression(node) ? node.body : undefined
