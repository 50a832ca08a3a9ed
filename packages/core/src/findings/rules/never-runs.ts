import ts from '#typescript'
import { bare, isEqual, isFunction, isUnequal, ownField, sideOf, type RecordNames } from '../record-names.js'
import { outcomeOf, startFacts } from '../facts.js'
import type { Rule } from '../types.js'
import { isCall, onPurpose, walk } from '../syntax.js'
import { property, resultOf } from '../uses.js'

export const neverRuns: Rule = {
  meta: {
    name: 'never-runs',
    severity: 'error',
    title: 'A hook that can never run',
    why: 'A guard that no row of its events can meet lets the hook sleep for ever, and nothing says so.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', on: ['update'], only: row => row.was.status === 'stored', each(row) { row.now.bay = 'A' } }`,
      `{ table: 'lot', moment: 'before-save', only: row => row.event === 'create', each(row) { row.now.bay = 'A' } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', on: ['create'], only: row => row.was !== null, each(row) { row.now.bay = 'A' } }`,
      `{ table: 'lot', moment: 'before-save', on: ['create'], only: row => row.event === 'update', each(row) { row.now.bay = 'A' } }`,
      `{ table: 'lot', moment: 'before-save', on: ['update'], watch: ['bay'], only: row => !row.changed('bay'), each(row) { row.now.alarm = 'none' } }`,
      `{ table: 'lot', moment: 'before-save', on: ['update'], only: row => row.copiedFrom !== null && row.now.bay === null, each(row) { row.now.bay = 'A' } }`,
      `{ table: 'lot', moment: 'before-save', only: () => false, each(row) { row.now.bay = 'A' } }`,
      `{ table: 'lot', moment: 'before-save', only: row => row.now.status === 'stored' && row.now.status === 'drying', each(row) { row.now.bay = 'A' } }`,
    ],
  },
  look({ hook, say }) {
    const only = property(hook.definition, 'only')
    if (!only || onPurpose(hook, only)) return
    const equal = new Map<string, string>()
    let said = false
    const tell = (node: ts.Node, message: string): void => {
      said = true
      say(node, message)
    }
    const watched = new Set(hook.watch.map((each) => each.text))
    const isWokenBy = (fields: readonly string[]) =>
      watched.size > 0 && !hook.on.includes('delete') && [...watched].every((field) => fields.includes(field))
    /** A field that must be two things at once. */
    const must = (field: string, value: string, node: ts.Node): void => {
      const before = equal.get(field)
      if (before !== undefined && before !== value) tell(node, `${field} cannot be ${before} and ${value} at once`)
      equal.set(field, value)
    }
    walk(only, (node) => {
      if (isFunction(node) && resultOf(node)?.kind === ts.SyntaxKind.FalseKeyword)
        tell(node, 'the guard is always false: the hook never runs')
      if (ts.isPrefixUnaryExpression(node) && isCall(node.operand, 'changed') && isJoined(node, only)) {
        const fields = node.operand.arguments.flatMap((each) => (ts.isStringLiteralLike(each) ? [each.text] : []))
        if (node.operator === ts.SyntaxKind.ExclamationToken && isWokenBy(fields))
          tell(node, `the hook is woken by a change of ${fields.join(', ')}, and the guard wants none: it never runs`)
      }
      if (isCall(node, 'became') && isJoined(node, only) && hook.on.every((event) => event === 'delete'))
        tell(node, 'on delete there is no row.now, so nothing became: the guard is never true')
      if (!ts.isBinaryExpression(node) || !isJoined(node, only)) return
      const [left, right] = [bare(node.left), bare(node.right)]
      const { kind } = node.operatorToken
      const isNull = right.kind === ts.SyntaxKind.NullKeyword
      const isWas = sideOf(left, hook.names) === 'was'
      if (isEqual(kind) && /\bevent$/.test(left.getText()) && ts.isStringLiteralLike(right) && !hook.on.includes(right.text))
        tell(node, `the hook runs on ${hook.on.join(' and ')}: the event is never ${right.text}`)
      if (isUnequal(kind) && isWas && isNull && !hook.on.some((event) => event !== 'create'))
        tell(node, 'on create there is no row.was: the guard is never true')
      if (isEqual(kind) && isWas && isNull && !hook.on.includes('create'))
        tell(node, 'row.was is null only on create, which the hook does not run on')
      const field = ownField(left, hook.names, 'any')
      const other = ownField(right, hook.names, 'any')
      if (!isEqual(kind) || field === null) return
      if (other === field && bothSides(left, right, hook.names) && isWokenBy([field]) && !hook.on.includes('create'))
        tell(node, `the hook is woken by a change of ${field}, and the guard wants none: it never runs`)
      if (ownField(left, hook.names) === null) return
      if (ts.isStringLiteralLike(right)) must(field, `'${right.text}'`, node)
      if (isNull) {
        must(field, 'null', node)
        // On create a watched field counts when it has a value.
        if (isWokenBy([field]) && !hook.on.some((event) => event !== 'create'))
          tell(node, `the hook is woken on create by a value in ${field}, and the guard wants none: it never runs`)
      }
    })
    const guard = ts.isPropertyAssignment(only) ? bare(only.initializer) : only
    const result = isFunction(guard) ? resultOf(guard) : undefined
    if (said || !isFunction(guard) || !result) return
    if (outcomeOf(result, startFacts(hook, guard, false), hook.names) === false)
      say(result, `the guard is never true on ${hook.on.join(' or ')}: the hook never runs`)
  },
}

const bothSides = (a: ts.Node, b: ts.Node, names: RecordNames): boolean =>
  (ownField(a, names, 'was') !== null) !== (ownField(b, names, 'was') !== null)

/** Is the test one that must hold: joined to the guard by && only? */
function isJoined(node: ts.Node, top: ts.Node): boolean {
  for (let at = node.parent; at !== top; at = at.parent) {
    if (ts.isParenthesizedExpression(at) || ts.isArrowFunction(at)) continue
    if (ts.isBinaryExpression(at) && at.operatorToken.kind === ts.SyntaxKind.AmpersandAmpersandToken) continue
    if (ts.isReturnStatement(at) || ts.isBlock(at)) continue
    return false
  }
  return true
}
