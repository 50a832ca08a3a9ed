import ts from '#typescript'
import { once } from '../once.js'
import { nodesOf } from '../syntax-tree.js'
import { bare, emptyUnless, emptyWhen, isFunction, ownField, recordNames, sideOf, type RecordNames } from './record-names.js'

/**
 * Which fields a hook's code reads and writes, found in its syntax tree: for the matrix of hooks × fields, for the
 * findings, and for the effect sheet, which leaves out what the hook will set. A use through a computed name
 * (`row.now[name]`) cannot be known and is not listed.
 */
export interface Use {
  table: string
  field: string
  /** `now` and `was`: of the row itself; `other`: of looked-up records and effects. */
  of: 'now' | 'was' | 'other'
  kind: 'read' | 'write'
  /** A write that happens only when the field is empty (`??=`, or under a test for null). */
  whenEmpty: boolean
  start: number
  end: number
}

export interface HookUses {
  table: string | null
  moment: string | null
  uses: Use[]
  names: RecordNames
}

const NO_NAMES: RecordNames = { rows: new Set(), now: new Set(), was: new Set(), ids: new Set() }

export const property = (literal: ts.ObjectLiteralExpression, name: string): ts.ObjectLiteralElementLike | undefined =>
  literal.properties.find(
    (each) => each.name !== undefined && (ts.isIdentifier(each.name) || ts.isStringLiteral(each.name)) && each.name.text === name,
  )

export function initializer(literal: ts.ObjectLiteralExpression, name: string): ts.Expression | undefined {
  const part = property(literal, name)
  return part && ts.isPropertyAssignment(part) ? part.initializer : undefined
}

const textOf = (node: ts.Expression | undefined): string | null => (node && ts.isStringLiteralLike(node) ? node.text : null)

/** The literal given to defineHook. */
export function definitionOf(source: ts.SourceFile): ts.ObjectLiteralExpression | null {
  for (const node of nodesOf(source).nodes)
    if (ts.isCallExpression(node) && ts.isIdentifier(node.expression) && node.expression.text === 'defineHook') {
      const [argument] = node.arguments
      if (argument && ts.isObjectLiteralExpression(argument)) return argument
    }
  return null
}

export function stringList(node: ts.Expression | undefined): { text: string; node: ts.StringLiteralLike }[] {
  const list = node && bare(node)
  if (!list || !ts.isArrayLiteralExpression(list)) return []
  return list.elements
    .map(bare)
    .filter(ts.isStringLiteralLike)
    .map((each) => ({ text: each.text, node: each }))
}

const assigning = once(
  () =>
    new Set([
      ts.SyntaxKind.EqualsToken,
      ts.SyntaxKind.PlusEqualsToken,
      ts.SyntaxKind.MinusEqualsToken,
      ts.SyntaxKind.AsteriskEqualsToken,
      ts.SyntaxKind.SlashEqualsToken,
      ts.SyntaxKind.QuestionQuestionEqualsToken,
      ts.SyntaxKind.BarBarEqualsToken,
      ts.SyntaxKind.AmpersandAmpersandEqualsToken,
    ]),
)

export function hookUses(source: ts.SourceFile): HookUses {
  const definition = definitionOf(source)
  if (!definition) return { table: null, moment: null, uses: [], names: NO_NAMES }
  const table = textOf(initializer(definition, 'table'))
  const moment = textOf(initializer(definition, 'moment'))
  const uses: Use[] = []
  const names = recordNames(definition)
  const add = (node: ts.Node, of: Use['of'], ofTable: string | null, field: string, kind: Use['kind'], whenEmpty = false) => {
    if (ofTable !== null && field !== 'id')
      uses.push({ table: ofTable, field, of, kind, whenEmpty, start: node.getStart(source), end: node.getEnd() })
  }
  for (const { text, node } of stringList(initializer(definition, 'watch'))) add(node, 'now', table, text, 'read')

  const only = property(definition, 'only')
  const guard = only && ts.isPropertyAssignment(only) ? bare(only.initializer) : only
  const onlyEmpty = guard && isFunction(guard) ? emptyWhen(resultOf(guard), names) : []

  /** Values destructured from the record, also within a pattern for the row. */
  const lookAtPattern = (pattern: ts.BindingName, side: 'now' | 'was' | null): void => {
    if (!ts.isObjectBindingPattern(pattern)) return
    for (const element of pattern.elements) {
      const key = element.propertyName ?? element.name
      if (!ts.isIdentifier(key)) continue
      if (side) {
        if (!element.dotDotDotToken) add(element, side, table, key.text, 'read')
      } else if (key.text === 'now' || key.text === 'was') lookAtPattern(element.name, key.text)
    }
  }

  const lookAtField = (node: ts.PropertyAccessExpression | ts.ElementAccessExpression, empty: ReadonlySet<string>): void => {
    const field = ownField(node, names, 'any')
    const side = sideOf(node.expression, names)
    if (field === null || side === null) return
    let outer: ts.Node = node
    while (bare(outer.parent) === bare(node)) outer = outer.parent
    const { parent } = outer
    const assigned =
      ts.isBinaryExpression(parent) && parent.left === outer && assigning().has(parent.operatorToken.kind)
        ? parent.operatorToken.kind
        : null
    const stepped =
      (ts.isPrefixUnaryExpression(parent) || ts.isPostfixUnaryExpression(parent)) &&
      (parent.operator === ts.SyntaxKind.PlusPlusToken || parent.operator === ts.SyntaxKind.MinusMinusToken)
    if (assigned === null && !stepped) return add(node, side, table, field, 'read')
    const fills =
      assigned === ts.SyntaxKind.QuestionQuestionEqualsToken || assigned === ts.SyntaxKind.BarBarEqualsToken || empty.has(field)
    add(node, side, table, field, 'write', fills)
    if (assigned !== ts.SyntaxKind.EqualsToken && !fills) add(node, side, table, field, 'read')
  }

  const look = (node: ts.Node, empty: ReadonlySet<string>): void => {
    if (ts.isVariableDeclaration(node) && node.initializer) {
      const from = bare(node.initializer)
      if (ts.isIdentifier(from) && names.rows.has(from.text)) lookAtPattern(node.name, null)
      else lookAtPattern(node.name, sideOf(from, names))
    }
    if (ts.isParameter(node)) lookAtPattern(node.name, null)
    if (ts.isPropertyAccessExpression(node) || ts.isElementAccessExpression(node)) lookAtField(node, empty)
    if (ts.isCallExpression(node)) {
      lookAtCall(node, table, add)
      const [target, values] = node.arguments
      if (
        node.expression.getText(source) === 'Object.assign' &&
        target &&
        values &&
        ts.isObjectLiteralExpression(values) &&
        sideOf(target, names) === 'now'
      )
        for (const each of values.properties)
          if (each.name && (ts.isIdentifier(each.name) || ts.isStringLiteral(each.name)))
            add(each, 'now', table, each.name.text, 'write', empty.has(each.name.text))
    }
    if (ts.isIfStatement(node)) {
      look(node.expression, empty)
      look(node.thenStatement, new Set([...empty, ...emptyWhen(node.expression, names)]))
      if (node.elseStatement) look(node.elseStatement, new Set([...empty, ...emptyUnless(node.expression, names)]))
      return
    }
    if (ts.isBlock(node)) {
      let known = empty
      for (const statement of node.statements) {
        look(statement, known)
        // A user who is still here after an early return has these fields empty.
        if (ts.isIfStatement(statement) && !statement.elseStatement && leaves(statement.thenStatement))
          known = new Set([...known, ...emptyUnless(statement.expression, names)])
      }
      return
    }
    if (ts.isBinaryExpression(node) && node.operatorToken.kind === ts.SyntaxKind.AmpersandAmpersandToken) {
      look(node.left, empty)
      look(node.right, new Set([...empty, ...emptyWhen(node.left, names)]))
      return
    }
    ts.forEachChild(node, (child) => look(child, empty))
  }
  look(definition, new Set(onlyEmpty))
  return { table, moment, uses, names }
}

/** Does a statement end the turn: return, continue, break, throw? */
export function leaves(statement: ts.Statement): boolean {
  if (ts.isBlock(statement)) return statement.statements.length > 0 && leaves(statement.statements.at(-1)!)
  if (ts.isIfStatement(statement))
    return statement.elseStatement !== undefined && leaves(statement.thenStatement) && leaves(statement.elseStatement)
  return (
    ts.isReturnStatement(statement) ||
    ts.isContinueStatement(statement) ||
    ts.isBreakStatement(statement) ||
    ts.isThrowStatement(statement)
  )
}

/** What a guard gives back, where it is one expression. */
export function resultOf(fn: ts.ArrowFunction | ts.FunctionExpression | ts.MethodDeclaration): ts.Node | undefined {
  if (!fn.body) return undefined
  if (!ts.isBlock(fn.body)) return fn.body
  const [only] = fn.body.statements
  return fn.body.statements.length === 1 && only && ts.isReturnStatement(only) ? only.expression : undefined
}

type Add = (node: ts.Node, of: Use['of'], table: string | null, field: string, kind: Use['kind']) => void

/** Look-ups and effects name tables and fields in their arguments. */
function lookAtCall(call: ts.CallExpression, own: string | null, add: Add): void {
  const callee = ts.isPropertyAccessExpression(call.expression)
    ? call.expression.name.text
    : ts.isIdentifier(call.expression)
      ? call.expression.text
      : ''
  const [first, second, third, fourth] = call.arguments
  const table = textOf(first)
  const objectFields = (node: ts.Expression | undefined, kind: Use['kind']) => {
    if (node && ts.isObjectLiteralExpression(node))
      for (const each of node.properties)
        if (each.name && (ts.isIdentifier(each.name) || ts.isStringLiteral(each.name)))
          add(each, 'other', table, each.name.text, kind)
  }
  const listFields = (node: ts.Expression | undefined) =>
    stringList(node).forEach((each) => add(each.node, 'other', table, each.text, 'read'))
  if (callee === 'changed')
    for (const each of call.arguments) if (ts.isStringLiteralLike(each)) add(each, 'now', own, each.text, 'read')
  if (callee === 'byId') listFields(third)
  if (callee === 'children') {
    if (second && ts.isStringLiteralLike(second)) add(second, 'other', table, second.text, 'read')
    listFields(fourth)
  }
  if (callee === 'find') {
    objectFields(second, 'read')
    if (third && ts.isObjectLiteralExpression(third)) listFields(initializer(third, 'fields'))
  }
  if (callee === 'rollup') {
    if (second && ts.isStringLiteralLike(second)) add(second, 'other', table, second.text, 'read')
    if (fourth && ts.isObjectLiteralExpression(fourth))
      for (const part of ['sum', 'min', 'max']) listFields(initializer(fourth, part))
  }
  // In place of an id there may be a condition.
  if (callee === 'update' || callee === 'remove') objectFields(second, 'read')
  if (callee === 'update') objectFields(third, 'write')
  if (callee === 'create') objectFields(second, 'write')
}
