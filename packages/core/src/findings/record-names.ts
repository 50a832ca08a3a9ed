import ts from '#typescript'
import { parametersOf } from '../syntax-tree.js'
import { bare, isFunction } from './nodes.js'
import { partOfRow } from './scope.js'

export { bare, isFunction }

/** The names by which a hook's code calls its row, the row's record, and its id. */
export interface RecordNames {
  rows: ReadonlySet<string>
  now: ReadonlySet<string>
  was: ReadonlySet<string>
  ids: ReadonlySet<string>
}

/** Functions whose first parameter is the row. */
const ROW_PARTS = ['only', 'each']

export function recordNames(definition: ts.ObjectLiteralExpression): RecordNames {
  const [rows, now, was, ids] = [new Set<string>(), new Set<string>(), new Set<string>(), new Set<string>()]
  const bindRow = (name: ts.BindingName): void => {
    if (ts.isIdentifier(name)) rows.add(name.text)
    else if (ts.isObjectBindingPattern(name))
      for (const element of name.elements) {
        const key = element.propertyName ?? element.name
        if (!ts.isIdentifier(key) || !ts.isIdentifier(element.name)) continue
        if (key.text === 'now') now.add(element.name.text)
        if (key.text === 'was') was.add(element.name.text)
        if (key.text === 'id') ids.add(element.name.text)
      }
  }
  for (const property of definition.properties) {
    const name = property.name && ts.isIdentifier(property.name) ? property.name.text : ''
    const fn = ts.isPropertyAssignment(property) ? bare(property.initializer) : property
    const row = ROW_PARTS.includes(name) && isFunction(fn) ? parametersOf(fn)[0] : undefined
    if (row) bindRow(row.name)
  }
  const look = (node: ts.Node): void => {
    // A parameter that is taken apart to now or was is a row, wherever it stands.
    if (
      ts.isParameter(node) &&
      ts.isObjectBindingPattern(node.name) &&
      node.name.elements.some((each) => ['now', 'was'].includes((each.propertyName ?? each.name).getText()))
    )
      bindRow(node.name)
    if (ts.isVariableDeclaration(node) && node.initializer) {
      const from = bare(node.initializer)
      if (ts.isIdentifier(from) && rows.has(from.text)) bindRow(node.name)
      const side = sideOf(from, { rows, now, was, ids })
      if (side && ts.isIdentifier(node.name)) (side === 'now' ? now : was).add(node.name.text)
      if (ts.isIdentifier(node.name) && isOwnId(from, { rows, now, was, ids })) ids.add(node.name.text)
    }
    if (ts.isCallExpression(node) && ts.isPropertyAccessExpression(node.expression) && node.expression.name.text === 'became') {
      const [predicate] = node.arguments
      // The parameter of became's predicate is the record as it will be.
      const record = predicate && isFunction(predicate) ? parametersOf(predicate)[0] : undefined
      if (record && ts.isIdentifier(record.name)) now.add(record.name.text)
    }
    ts.forEachChild(node, look)
  }
  look(definition)
  return { rows, now, was, ids }
}

/** Is it `….now` or `….was`, or a name for one of them? */
export function sideOf(node: ts.Node, names: RecordNames): 'now' | 'was' | null {
  const inner = bare(node)
  if (ts.isPropertyAccessExpression(inner) && (inner.name.text === 'now' || inner.name.text === 'was')) return inner.name.text
  if (ts.isIdentifier(inner)) return names.now.has(inner.text) ? 'now' : names.was.has(inner.text) ? 'was' : null
  return null
}

/** The field of the record itself that an expression is: `row.now.bay`, `now['bay']`. */
export function ownField(node: ts.Node, names: RecordNames, side: 'now' | 'was' | 'any' = 'now'): string | null {
  const inner = bare(node)
  const isSide = (of: ts.Node) => {
    const known = sideOf(of, names)
    return known !== null && (side === 'any' || known === side)
  }
  if (ts.isPropertyAccessExpression(inner) && isSide(inner.expression)) return inner.name.text
  if (ts.isElementAccessExpression(inner) && isSide(inner.expression) && ts.isStringLiteralLike(inner.argumentExpression))
    return inner.argumentExpression.text
  return null
}

/** Is it the id of the row that is saved? */
export function isOwnId(node: ts.Node, names: RecordNames): boolean {
  const inner = bare(node)
  if (ts.isIdentifier(inner)) return names.ids.has(inner.text) || ['id', 'now.id', 'was.id'].includes(partOfRow(inner) ?? '')
  if (!ts.isPropertyAccessExpression(inner) || inner.name.text !== 'id') return false
  const of = bare(inner.expression)
  if (ts.isIdentifier(of))
    return (
      names.rows.has(of.text) ||
      names.now.has(of.text) ||
      names.was.has(of.text) ||
      ['', 'now', 'was'].includes(partOfRow(of) ?? 'none')
    )
  return (
    ts.isPropertyAccessExpression(of) &&
    (of.name.text === 'now' || of.name.text === 'was') &&
    isRowExpression(of.expression, names)
  )
}

function isRowExpression(node: ts.Node, names: RecordNames): boolean {
  const inner = bare(node)
  return ts.isIdentifier(inner) && (names.rows.has(inner.text) || partOfRow(inner) === '')
}

/** Fields that must be null (or empty text) for a test to hold, alone or joined by &&. */
export function emptyWhen(test: ts.Node | undefined, names: RecordNames): string[] {
  const node = test && bare(test)
  if (!node) return []
  if (ts.isBinaryExpression(node)) {
    const { kind } = node.operatorToken
    if (kind === ts.SyntaxKind.AmpersandAmpersandToken) return [...emptyWhen(node.left, names), ...emptyWhen(node.right, names)]
    if (isEqual(kind) && isNothing(node.right)) return fieldList(node.left, names)
  }
  if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken) return fieldList(node.operand, names)
  return []
}

/** Fields that must be null for a test not to hold: what an early return leaves. */
export function emptyUnless(test: ts.Node, names: RecordNames): string[] {
  const node = bare(test)
  if (ts.isBinaryExpression(node)) {
    const { kind } = node.operatorToken
    if (kind === ts.SyntaxKind.BarBarToken) return [...emptyUnless(node.left, names), ...emptyUnless(node.right, names)]
    if (isUnequal(kind) && isNothing(node.right)) return fieldList(node.left, names)
  }
  return fieldList(node, names)
}

const fieldList = (node: ts.Node, names: RecordNames): string[] => {
  const field = ownField(node, names)
  return field === null ? [] : [field]
}
const isNothing = (node: ts.Node): boolean =>
  node.kind === ts.SyntaxKind.NullKeyword ||
  (ts.isStringLiteral(node) && node.text === '') ||
  (ts.isIdentifier(node) && node.text === 'undefined')
export const isEqual = (kind: ts.SyntaxKind): boolean =>
  kind === ts.SyntaxKind.EqualsEqualsEqualsToken || kind === ts.SyntaxKind.EqualsEqualsToken
export const isUnequal = (kind: ts.SyntaxKind): boolean =>
  kind === ts.SyntaxKind.ExclamationEqualsEqualsToken || kind === ts.SyntaxKind.ExclamationEqualsToken
