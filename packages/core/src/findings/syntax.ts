import ts from '#typescript'
import type { Field, Table } from '../model/types.js'
import { bare, isFunction, isOwnId } from './record-names.js'
import { parametersOf } from '../syntax-tree.js'
import { declarationOf } from './scope.js'
import type { HookCode } from './types.js'
import { initializer, property, resultOf } from './uses.js'

/** Small questions about syntax that several rules ask. */

export function walk(node: ts.Node, each: (node: ts.Node) => void): void {
  each(node)
  ts.forEachChild(node, (child) => walk(child, each))
}

/** The function given as a part of the definition (`each`, `load` …), as a method or a property. */
export function partOf(hook: HookCode, name: string): ts.Node | null {
  const part = property(hook.definition, name)
  if (!part) return null
  return ts.isPropertyAssignment(part) ? part.initializer : part
}

export const parameterOf = (fn: ts.Node | null, index: number): ts.BindingName | null =>
  fn && (ts.isArrowFunction(fn) || ts.isFunctionExpression(fn) || ts.isMethodDeclaration(fn))
    ? (parametersOf(fn)[index]?.name ?? null)
    : null

/** The name of the method or function that is called: `byId` of `store.byId(…)`. */
export function calleeName(call: ts.CallExpression): string {
  const { expression } = call
  return ts.isPropertyAccessExpression(expression) ? expression.name.text : ts.isIdentifier(expression) ? expression.text : ''
}

export const isCall = (node: ts.Node, ...names: string[]): node is ts.CallExpression =>
  ts.isCallExpression(node) && names.includes(calleeName(node))

export const stringOf = (node: ts.Node | undefined): string | null => (node && ts.isStringLiteralLike(node) ? node.text : null)

export const LOOKUPS = ['byId', 'children', 'find', 'rollup']

/** A look-up through the store, not a `find` of an array. */
export function isLookup(node: ts.Node, ...names: string[]): node is ts.CallExpression {
  if (!ts.isCallExpression(node) || !ts.isPropertyAccessExpression(node.expression)) return false
  const { name, expression } = node.expression
  return (
    (names.length ? names : LOOKUPS).includes(name.text) &&
    (ts.isIdentifier(expression) ? expression.text === 'store' : expression.getText().endsWith('.store')) &&
    stringOf(node.arguments[0]) !== null
  )
}

/** Fields named in a look-up; null when it reads every column. */
export function fieldsOf(lookup: ts.CallExpression): ts.Expression | null {
  const [, second, third, fourth] = lookup.arguments
  const name = calleeName(lookup)
  if (name === 'byId') return third ?? null
  if (name === 'children') return fourth ?? null
  if (name === 'find') return third && ts.isObjectLiteralExpression(third) ? (initializer(third, 'fields') ?? null) : null
  return second ?? null
}

export const isAssignment = (node: ts.Node): node is ts.BinaryExpression =>
  ts.isBinaryExpression(node) && node.operatorToken.kind === ts.SyntaxKind.EqualsToken

/** Did the author say, in a comment on this line, the line above or at the head of the hook, that it is on purpose? */
export function onPurpose(hook: HookCode, node: ts.Node): boolean {
  const { line } = hook.source.getLineAndCharacterOfPosition(node.getStart(hook.source))
  const lines = hook.text.split('\n')
  return [lines[line], lines[line - 1]].some((text) => /(\/\/|\*).*\bon purpose\b/.test(text ?? ''))
}

/** Names that the loaded data has inside `each`: its second parameter, or the parts it is taken apart into. */
export function loadedNames(hook: HookCode): Set<string> {
  const names = new Set<string>()
  const each = partOf(hook, 'each')
  const parameter = parameterOf(each, 1)
  if (parameter && ts.isIdentifier(parameter)) names.add(parameter.text)
  if (parameter && ts.isObjectBindingPattern(parameter))
    for (const element of parameter.elements) if (ts.isIdentifier(element.name)) names.add(element.name.text)
  // What is read out of loaded data is loaded data too: const lot = lots.get(row.now.lot)
  if (each)
    walk(each, (node) => {
      if (ts.isVariableDeclaration(node) && ts.isIdentifier(node.name) && node.initializer && mentions(node.initializer, names))
        names.add(node.name.text)
    })
  return names
}

export function mentions(node: ts.Node, names: ReadonlySet<string>): boolean {
  let isThere = false
  walk(node, (each) => {
    if (
      ts.isIdentifier(each) &&
      names.has(each.text) &&
      !(ts.isPropertyAccessExpression(each.parent) && each.parent.name === each)
    )
      isThere = true
  })
  return isThere
}

export interface NamedValues {
  table: Table
  /** The object's keys are conditions of a look-up, not values of an effect. */
  conditions: boolean
  values: { name: string; key: ts.Node; field: Field | undefined; value: ts.Expression }[]
}

/** The objects that give values or conditions by field in update, remove, create and find. */
export function namedValues(call: ts.CallExpression, tables: ReadonlyMap<string, Table>): NamedValues[] {
  const name = calleeName(call)
  const isWhere = isLookup(call, 'find') || name === 'update' || name === 'remove'
  return [
    isWhere ? namedIn(call, 1, true, tables) : null,
    name === 'create' ? namedIn(call, 1, false, tables) : name === 'update' ? namedIn(call, 2, false, tables) : null,
  ].filter((each) => each !== null)
}

function namedIn(
  call: ts.CallExpression,
  at: number,
  conditions: boolean,
  tables: ReadonlyMap<string, Table>,
): NamedValues | null {
  const table = tables.get(stringOf(call.arguments[0]) ?? '')
  const given = call.arguments[at]
  const literal = given && bare(given)
  if (!table || !literal || !ts.isObjectLiteralExpression(literal)) return null
  const values = literal.properties.flatMap((each) => {
    if (!ts.isPropertyAssignment(each) || !(ts.isIdentifier(each.name) || ts.isStringLiteral(each.name))) return []
    const name = each.name.text
    return [{ name, key: each.name, field: table.fields.find((field) => field.name === name), value: each.initializer }]
  })
  return { table, conditions, values }
}

/** The table of the records that the names of loadedNames represent, where load gives one look-up, or named ones. */
export function loadedTables(hook: HookCode, tables: ReadonlyMap<string, Table>): Map<string, Table> {
  const made = new Map<string, Table>()
  const load = partOf(hook, 'load')
  const each = partOf(hook, 'each')
  const result = load && isFunction(load) ? resultOf(load) : undefined
  const parameter = parameterOf(each, 1)
  if (!result || !parameter || !each) return made
  const tableOf = (node: ts.Node): Table | undefined => {
    const inner = bare(node)
    return isLookup(inner, 'byId', 'children', 'find') ? tables.get(stringOf(inner.arguments[0]) ?? '') : undefined
  }
  const note = (name: ts.Node, table: Table | undefined) => {
    if (table && ts.isIdentifier(name)) made.set(name.text, table)
  }
  const given = bare(result)
  if (!ts.isObjectLiteralExpression(given)) note(parameter, tableOf(given))
  else if (ts.isObjectBindingPattern(parameter))
    for (const element of parameter.elements) {
      const part = initializer(given, (element.propertyName ?? element.name).getText())
      if (part) note(element.name, tableOf(part))
    }
  // What is read out of loaded data is of the same table: const lot = lots.get(row.now.lot)
  walk(each, (node) => {
    if (!ts.isVariableDeclaration(node) || !node.initializer) return
    for (const way of ways(node.initializer)) note(node.name, made.get(rootOf(way) ?? ''))
  })
  return made
}

/** What an expression may come to: itself, both sides of ?:, of ?? and ||, the items of a list. */
export function ways(expression: ts.Node): ts.Node[] {
  const node = bare(expression)
  if (ts.isConditionalExpression(node)) return [...ways(node.whenTrue), ...ways(node.whenFalse)]
  if (ts.isArrayLiteralExpression(node)) return node.elements.flatMap(ways)
  if (
    ts.isBinaryExpression(node) &&
    (node.operatorToken.kind === ts.SyntaxKind.QuestionQuestionToken || node.operatorToken.kind === ts.SyntaxKind.BarBarToken)
  )
    return [...ways(node.left), ...ways(node.right)]
  return [node]
}

/** Are these the ids of the rows themselves: `rows.map((row) => row.id)`, also under a name? */
export function areOwnIds(node: ts.Node | undefined, hook: HookCode): boolean {
  const inner = node && bare(node)
  if (!inner) return false
  if (ts.isIdentifier(inner)) {
    const declared = declarationOf(inner)
    const { parent } = declared ?? {}
    return parent !== undefined && ts.isVariableDeclaration(parent) && areOwnIds(parent.initializer, hook)
  }
  if (ts.isArrayLiteralExpression(inner)) {
    const parts = inner.elements.map((each) => (ts.isSpreadElement(each) ? each.expression : each))
    return parts.length > 0 && parts.every((each) => areOwnIds(each, hook) || isOwnId(each, hook.names))
  }
  if (ts.isNewExpression(inner)) return areOwnIds(inner.arguments?.[0], hook)
  if (!isCall(inner, 'map')) return false
  const [fn] = inner.arguments
  const result = fn && isFunction(fn) ? resultOf(fn) : undefined
  return result !== undefined && isOwnId(result, hook.names)
}

/** The name that a chain of calls and properties starts with: `lots` of `lots.get(row.now.lot)?.bay`. */
export function rootOf(node: ts.Node): string | null {
  const inner = bare(node)
  if (ts.isIdentifier(inner)) return inner.text
  return ts.isCallExpression(inner) || ts.isPropertyAccessExpression(inner) || ts.isElementAccessExpression(inner)
    ? rootOf(inner.expression)
    : null
}
