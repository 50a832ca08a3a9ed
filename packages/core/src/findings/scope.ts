import ts from '#typescript'
import { parametersOf } from '../syntax-tree.js'
import { bare, isFunction } from './nodes.js'

/** Which binding a name in a hook's code means, and whether that is one of the rows that `finish` or `load` were given. */

/** Array methods whose function is called once for each item. */
export const LOOPING = ['map', 'forEach', 'filter', 'flatMap', 'some', 'every', 'find']

/** The identifier that declares a name where it is used; null for a global one. */
export function declarationOf(name: ts.Identifier): ts.Identifier | null {
  for (let at: ts.Node | undefined = name.parent; at; at = at.parent) {
    const binding = namesOf(at).find((each) => each.text === name.text)
    if (binding) return binding
  }
  return null
}

function namesOf(scope: ts.Node): ts.Identifier[] {
  if (isFunction(scope) || ts.isFunctionDeclaration(scope)) return scope.parameters.flatMap((each) => bound(each.name))
  if (ts.isBlock(scope) || ts.isSourceFile(scope) || ts.isCaseOrDefaultClause(scope))
    return scope.statements.flatMap((each) => (ts.isVariableStatement(each) ? listed(each.declarationList) : []))
  if (
    (ts.isForOfStatement(scope) || ts.isForInStatement(scope) || ts.isForStatement(scope)) &&
    scope.initializer &&
    ts.isVariableDeclarationList(scope.initializer)
  )
    return listed(scope.initializer)
  return []
}

const listed = (list: ts.VariableDeclarationList): ts.Identifier[] => list.declarations.flatMap((each) => bound(each.name))

function bound(name: ts.BindingName): ts.Identifier[] {
  if (ts.isIdentifier(name)) return [name]
  return name.elements.flatMap((each) => (ts.isOmittedExpression(each) ? [] : bound(each.name)))
}

/** What an expression comes to, as far as it is made of the rows of a batch: one of them, or some in a list, or by key. */
type Held = 'row' | { of: Held; by: 'list' | 'map' | 'entries' }

const list = (of: Held | null): Held | null => (of === null ? null : { of, by: 'list' })
const itemOf = (held: Held | null): Held | null => (held !== null && held !== 'row' && held.by !== 'entries' ? held.of : null)

/** Methods that give the same rows again, and those that give one of them. */
const SAME = ['filter', 'slice', 'sort', 'toSorted', 'reverse', 'toReversed', 'concat', 'values']
const ONE = ['at', 'find', 'findLast', 'pop', 'shift', 'get']
/** So far a value is followed from name to name. */
const DEEPEST = 12

/**
 * Of a name that is bound to a row of a batch, or to a part of one: '' for the row itself, 'now', 'was', 'id' …; null for
 * any other name. Rows come from `for (const row of rows)`, `rows.map(row => …)` and `rows[0]`, also through lists and Maps.
 */
export function partOfRow(name: ts.Identifier, depth = 0): string | null {
  const declared = declarationOf(name)
  const bound = declared && boundTo(declared, depth)
  return bound?.held === 'row' ? bound.path.join('.') : null
}

function boundTo(declared: ts.Identifier, depth: number): { held: Held | null; path: string[] } | null {
  if (depth > DEEPEST) return null
  const path: string[] = []
  let entry: number | null = null
  let at: ts.Node = declared
  while (ts.isBindingElement(at.parent)) {
    const element: ts.BindingElement = at.parent
    if (element.dotDotDotToken) return null
    if (ts.isObjectBindingPattern(element.parent)) path.unshift((element.propertyName ?? element.name).getText())
    else if (entry === null && !ts.isBindingElement(element.parent.parent)) entry = element.parent.elements.indexOf(element)
    else return null
    at = element.parent
  }
  const { parent } = at
  const held = ts.isParameter(parent)
    ? ofParameter(parent, depth)
    : ts.isVariableDeclaration(parent)
      ? ofVariable(parent, depth)
      : null
  if (entry === null) return { held: held !== null && held !== 'row' && held.by === 'entries' ? null : held, path }
  // Of [key, value], as a Map gives them.
  return held !== null && held !== 'row' && held.by === 'entries' && entry === 1 ? { held: held.of, path } : null
}

/** What a loop gives: an entry of a Map, or an item of a list. */
function turnOf(held: Held | null): Held | null {
  if (held === null || held === 'row') return null
  return held.by === 'list' ? held.of : { of: held.of, by: 'entries' }
}

function ofParameter(parameter: ts.ParameterDeclaration, depth: number): Held | null {
  const fn = parameter.parent
  const call = fn.parent
  if (!ts.isCallExpression(call) || call.arguments[0] !== fn || parametersOf(fn)[0] !== parameter) return null
  if (!ts.isPropertyAccessExpression(call.expression) || !LOOPING.includes(call.expression.name.text)) return null
  const held = heldBy(call.expression.expression, depth + 1)
  return held !== null && held !== 'row' && held.by === 'map' ? held.of : turnOf(held)
}

function ofVariable(declaration: ts.VariableDeclaration, depth: number): Held | null {
  const loop = declaration.parent.parent
  if (ts.isForOfStatement(loop)) return turnOf(heldBy(loop.expression, depth + 1))
  if (!declaration.initializer || !ts.isIdentifier(declaration.name))
    return declaration.initializer ? heldBy(declaration.initializer, depth + 1) : null
  return heldBy(declaration.initializer, depth + 1) ?? filledLater(declaration.name, declaration.initializer, depth)
}

/** What is put into a list or a Map that began empty. */
function filledLater(name: ts.Identifier, initializer: ts.Expression, depth: number): Held | null {
  const node = bare(initializer)
  const isList = ts.isArrayLiteralExpression(node) && node.elements.length === 0
  if (!isList && !(ts.isNewExpression(node) && node.expression.getText() === 'Map' && !node.arguments?.length)) return null
  let scope: ts.Node = name
  while (!ts.isBlock(scope) && !ts.isSourceFile(scope)) scope = scope.parent
  let held: Held | null = null
  const look = (at: ts.Node): void => {
    if (
      held === null &&
      ts.isCallExpression(at) &&
      ts.isPropertyAccessExpression(at.expression) &&
      at.expression.expression.getText() === name.text &&
      at.expression.name.text === (isList ? 'push' : 'set')
    ) {
      const given = at.arguments[isList ? 0 : 1]
      const of = given ? heldBy(given, depth + 1) : null
      if (of) held = { of, by: isList ? 'list' : 'map' }
    }
    ts.forEachChild(at, look)
  }
  look(scope)
  return held
}

function heldBy(expression: ts.Node, depth: number): Held | null {
  if (depth > DEEPEST) return null
  const node = bare(expression)
  if (isRows(node)) return { of: 'row', by: 'list' }
  if (ts.isIdentifier(node)) {
    const declared = declarationOf(node)
    const bound = declared && boundTo(declared, depth + 1)
    return bound && bound.path.length === 0 ? bound.held : null
  }
  if (ts.isBinaryExpression(node) && node.operatorToken.kind === ts.SyntaxKind.QuestionQuestionToken)
    return heldBy(node.left, depth + 1)
  if (ts.isElementAccessExpression(node)) return itemOf(heldBy(node.expression, depth + 1))
  if (ts.isArrayLiteralExpression(node)) {
    const [only, more] = node.elements
    if (!only || more) return null
    return ts.isSpreadElement(only) ? heldBy(only.expression, depth + 1) : list(heldBy(only, depth + 1))
  }
  if (ts.isNewExpression(node) && node.expression.getText() === 'Map' && node.arguments?.[0]) {
    const entries = itemOf(heldBy(node.arguments[0], depth + 1))
    return entries !== null && entries !== 'row' && entries.by === 'entries' ? { of: entries.of, by: 'map' } : null
  }
  if (!ts.isCallExpression(node) || !ts.isPropertyAccessExpression(node.expression)) return null
  const { name, expression: from } = node.expression
  const [argument] = node.arguments
  if (name.text === 'groupBy' && argument) {
    const held = heldBy(argument, depth + 1)
    return held && { of: held, by: 'map' }
  }
  const held = heldBy(from, depth + 1)
  if (held === null || held === 'row') return null
  if (SAME.includes(name.text)) return held.by === 'map' ? list(held.of) : held
  if (ONE.includes(name.text)) return itemOf(held)
  return name.text === 'map' && argument && isFunction(argument) ? list(madeBy(argument, depth)) : null
}

/** What a function gives for one row: the row again, or an entry [key, row]. */
function madeBy(fn: ts.ArrowFunction | ts.FunctionExpression | ts.MethodDeclaration, depth: number): Held | null {
  if (!fn.body || ts.isBlock(fn.body)) return null
  const result = bare(fn.body)
  if (ts.isArrayLiteralExpression(result) && result.elements.length === 2) {
    const of = heldBy(result.elements[1]!, depth + 1)
    return of && { of, by: 'entries' }
  }
  return heldBy(result, depth + 1)
}

/** `rows` as finish and load are given it. */
function isRows(node: ts.Node): boolean {
  if (ts.isPropertyAccessExpression(node)) return node.name.text === 'rows' && ts.isIdentifier(node.expression)
  const declared = ts.isIdentifier(node) ? declarationOf(node) : null
  if (!declared || !ts.isBindingElement(declared.parent)) return false
  const { parent } = declared
  return (parent.propertyName ?? parent.name).getText() === 'rows' && ts.isParameter(parent.parent.parent)
}
