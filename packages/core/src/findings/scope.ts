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

/**
 * Of a name that is bound to a row of a batch, or to a part of one: '' for the row itself, 'now', 'was', 'id' …; null for
 * any other name. Rows come from `for (const row of rows)`, `rows.map(row => …)` and `rows[0]`.
 */
export function partOfRow(name: ts.Identifier): string | null {
  const declared = declarationOf(name)
  if (!declared) return null
  const path: string[] = []
  let at: ts.Node = declared
  while (ts.isBindingElement(at.parent)) {
    const element: ts.BindingElement = at.parent
    if (!ts.isObjectBindingPattern(element.parent) || element.dotDotDotToken) return null
    path.unshift((element.propertyName ?? element.name).getText())
    at = element.parent
  }
  const { parent } = at
  const isOfRows = ts.isParameter(parent)
    ? isLoopOverRows(parent)
    : ts.isVariableDeclaration(parent) && (isForOverRows(parent) || isItemOfRows(parent.initializer))
  return isOfRows ? path.join('.') : null
}

function isLoopOverRows(parameter: ts.ParameterDeclaration): boolean {
  const fn = parameter.parent
  const call = fn.parent
  return (
    parametersOf(fn)[0] === parameter &&
    ts.isCallExpression(call) &&
    call.arguments[0] === fn &&
    ts.isPropertyAccessExpression(call.expression) &&
    LOOPING.includes(call.expression.name.text) &&
    isRows(call.expression.expression)
  )
}

const isForOverRows = (declaration: ts.VariableDeclaration): boolean =>
  ts.isForOfStatement(declaration.parent.parent) && isRows(declaration.parent.parent.expression)

function isItemOfRows(value: ts.Expression | undefined): boolean {
  const node = value && bare(value)
  return node !== undefined && ts.isElementAccessExpression(node) && isRows(node.expression)
}

/** `rows` as finish and load are given it, also filtered. */
function isRows(expression: ts.Expression): boolean {
  const node = bare(expression)
  if (ts.isCallExpression(node) && ts.isPropertyAccessExpression(node.expression) && node.expression.name.text === 'filter')
    return isRows(node.expression.expression)
  if (ts.isPropertyAccessExpression(node)) return node.name.text === 'rows' && ts.isIdentifier(node.expression)
  const declared = ts.isIdentifier(node) ? declarationOf(node) : null
  if (!declared || !ts.isBindingElement(declared.parent)) return false
  const { parent } = declared
  return (parent.propertyName ?? parent.name).getText() === 'rows' && ts.isParameter(parent.parent.parent)
}
