import ts from '#typescript'
import { parametersOf } from '../syntax-tree.js'
import { bare, isEqual, isFunction, isUnequal, ownField, sideOf, type RecordNames } from './record-names.js'
import { isAssignment, walk } from './syntax.js'
import type { HookCode } from './types.js'
import { leaves, property, resultOf } from './uses.js'

/**
 * What is known of the row at a place in the code, from the tests that lead there: `row.now.bay` is null, is 'A', is not
 * null. Values are kept as written. Enough to say that a condition cannot hold; no more than that is claimed.
 */
export type Facts = ReadonlyMap<string, { is: string } | { not: readonly string[] }>

export const NO_FACTS: Facts = new Map()

/** Values that do not count as a yes, as they are kept here. */
const NOTHING = ['null', 'false', '0', '""']

/** By what a fact is kept: a field of the row, its event, or whether there is a `was`. */
function keyOf(node: ts.Node, names: RecordNames): string | null {
  const inner = bare(node)
  const isKnown =
    ownField(inner, names, 'any') !== null ||
    sideOf(inner, names) !== null ||
    (ts.isPropertyAccessExpression(inner) &&
      ['event', 'copiedFrom'].includes(inner.name.text) &&
      ts.isIdentifier(inner.expression) &&
      names.rows.has(inner.expression.text))
  return isKnown ? inner.getText().replaceAll('!', '').replaceAll('?.', '.') : null
}

function literalOf(node: ts.Node): string | null {
  const inner = bare(node)
  if (ts.isStringLiteralLike(inner)) return JSON.stringify(inner.text)
  if (ts.isNumericLiteral(inner)) return String(Number(inner.text))
  if (ts.isIdentifier(inner)) return inner.text === 'undefined' ? 'null' : null
  const { kind } = inner
  return kind === ts.SyntaxKind.NullKeyword
    ? 'null'
    : kind === ts.SyntaxKind.TrueKeyword
      ? 'true'
      : kind === ts.SyntaxKind.FalseKeyword
        ? 'false'
        : null
}

/** `key === value` or `key !== value`. */
function comparison(node: ts.Node, names: RecordNames): { key: string; value: string; equal: boolean } | null {
  if (!ts.isBinaryExpression(node)) return null
  const { kind } = node.operatorToken
  const key = keyOf(node.left, names)
  const value = literalOf(node.right)
  if (key === null || value === null || !(isEqual(kind) || isUnequal(kind))) return null
  return { key, value, equal: isEqual(kind) }
}

const isNot = (node: ts.Node): node is ts.PrefixUnaryExpression =>
  ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken
const joins = (node: ts.Node, kind: ts.SyntaxKind): node is ts.BinaryExpression =>
  ts.isBinaryExpression(node) && node.operatorToken.kind === kind

/** What holds of a row before its hook's `only` (or, with `guard`, after it) is asked: by its events and its watch list. */
export function startFacts(hook: HookCode, fn: ts.SignatureDeclaration, guarded = true): Facts {
  const [parameter] = parametersOf(fn)
  if (!parameter || fn.parent === undefined) return NO_FACTS
  const prefix = ts.isIdentifier(parameter.name) ? `${parameter.name.text}.` : ''
  const facts = new Map<string, { is: string } | { not: readonly string[] }>()
  const events = ['create', 'update', 'delete']
  const [event] = hook.on
  facts.set(
    `${prefix}event`,
    hook.on.length === 1
      ? { is: JSON.stringify(event) }
      : { not: events.filter((each) => !hook.on.includes(each)).map((each) => JSON.stringify(each)) },
  )
  if (!hook.on.includes('create')) facts.set(`${prefix}was`, { not: ['null'] }).set(`${prefix}copiedFrom`, { is: 'null' })
  else if (hook.on.length === 1) {
    facts.set(`${prefix}was`, { is: 'null' })
    // On create a watched field counts when it has a value.
    const [watched] = hook.watch
    if (watched && hook.watch.length === 1) facts.set(`${prefix}now.${watched.text}`, { not: ['null'] })
  }
  if (!hook.on.includes('delete')) facts.set(`${prefix}now`, { not: ['null'] })
  const only = property(hook.definition, 'only')
  const guard = only && (ts.isPropertyAssignment(only) ? bare(only.initializer) : only)
  if (!guarded || !guard || !isFunction(guard)) return facts
  const result = resultOf(guard)
  const [asked] = parametersOf(guard)
  // What the guard calls the row is what the hook must call it too.
  if (!result || asked?.name.getText() !== parameter.name.getText()) return facts
  return and(facts, factsWhen(result, true, hook.names))
}

/** What holds where a test came out so. */
export function factsWhen(test: ts.Node, outcome: boolean, names: RecordNames): Facts {
  const node = bare(test)
  if (isNot(node)) return factsWhen(node.operand, !outcome, names)
  const both = outcome ? ts.SyntaxKind.AmpersandAmpersandToken : ts.SyntaxKind.BarBarToken
  if (joins(node, both)) return and(factsWhen(node.left, outcome, names), factsWhen(node.right, outcome, names))
  const compared = comparison(node, names)
  if (compared) {
    const { key, value, equal } = compared
    return new Map([[key, equal === outcome ? { is: value } : { not: [value] }]])
  }
  const key = keyOf(node, names)
  return key !== null && outcome ? new Map([[key, { not: NOTHING }]]) : NO_FACTS
}

export function and(a: Facts, b: Facts): Facts {
  const both = new Map(a)
  for (const [key, fact] of b) {
    const known = both.get(key)
    if (known && 'is' in known) continue
    both.set(key, known && 'not' in fact ? { not: [...known.not, ...fact.not] } : fact)
  }
  return both
}

/** Must the test come out so, by what is known? null: it may be either. */
export function outcomeOf(test: ts.Node, facts: Facts, names: RecordNames): boolean | null {
  const node = bare(test)
  if (isNot(node)) {
    const inner = outcomeOf(node.operand, facts, names)
    return inner === null ? null : !inner
  }
  for (const [kind, ends] of [
    [ts.SyntaxKind.AmpersandAmpersandToken, false],
    [ts.SyntaxKind.BarBarToken, true],
  ] as const)
    if (joins(node, kind)) {
      const left = outcomeOf(node.left, facts, names)
      if (left === ends) return ends
      const right = outcomeOf(node.right, and(facts, factsWhen(node.left, !ends, names)), names)
      return right === ends ? ends : left === null ? null : right
    }
  const literal = literalOf(node)
  if (literal !== null) return !NOTHING.includes(literal)
  const compared = comparison(node, names)
  if (compared) {
    const fact = facts.get(compared.key)
    if (!fact) return null
    if ('is' in fact) return (fact.is === compared.value) === compared.equal
    return fact.not.includes(compared.value) ? !compared.equal : null
  }
  const key = keyOf(node, names)
  const fact = key === null ? undefined : facts.get(key)
  if (fact && 'is' in fact) return !NOTHING.includes(fact.is)
  return fact && NOTHING.every((each) => fact.not.includes(each)) ? true : null
}

/** Without what a piece of code may have changed: fields that are set in it, all of `now` where the record is given away. */
export function forget(facts: Facts, code: ts.Node, names: RecordNames): Facts {
  if (facts.size === 0) return facts
  const gone = new Set<string>()
  let all = false
  walk(code, (node) => {
    const left = ts.isBinaryExpression(node) && /^[^=!<>]*=$/.test(node.operatorToken.getText()) ? node.left : null
    const field = left && ownField(left, names)
    if (field) gone.add(field)
    else if (left && ts.isElementAccessExpression(bare(left))) all = true
    if (isAssignment(node) && (ts.isObjectLiteralExpression(node.left) || ts.isArrayLiteralExpression(node.left))) all = true
    if ((ts.isPrefixUnaryExpression(node) && !isNot(node)) || ts.isPostfixUnaryExpression(node)) {
      const stepped = ownField(node.operand, names)
      if (stepped) gone.add(stepped)
    }
    if (ts.isCallExpression(node) && node.arguments.some((each) => isRecord(each, names))) all = true
  })
  if (!all && gone.size === 0) return facts
  return new Map([...facts].filter(([key]) => (all ? /\bwas\b|event$/.test(key) : ![...gone].some((name) => key.includes(name)))))
}

function isRecord(node: ts.Node, names: RecordNames): boolean {
  const inner = bare(node)
  return sideOf(inner, names) === 'now' || (ts.isIdentifier(inner) && names.rows.has(inner.text))
}

/** May a field of the row be null, by what is known? */
export function mayBeNull(field: ts.Node, facts: Facts, names: RecordNames): boolean {
  const key = keyOf(field, names)
  const fact = key === null ? undefined : facts.get(key)
  return fact === undefined || ('is' in fact ? fact.is === 'null' : !fact.not.includes('null'))
}

/**
 * Walks code with what is known on the way.
 * @param told of each branch that cannot be reached, with the condition and how it always comes out; and of each call, with what is known there
 */
export function walkKnowing(
  code: ts.Node,
  start: Facts,
  names: RecordNames,
  told: {
    unreached?: (branch: ts.Node, condition: ts.Expression, outcome: boolean) => void
    call?: (call: ts.CallExpression, facts: Facts) => void
  },
): void {
  const tell = told.unreached ?? (() => {})
  // A field that a function within sets may change whenever that is called: nothing is held to be known of it.
  const within: ts.Node[] = []
  walk(code, (node) => {
    if (isFunction(node) || ts.isFunctionDeclaration(node)) within.push(node)
  })
  const lasting = (facts: Facts): Facts => within.reduce((left, fn) => forget(left, fn, names), facts)
  const learn = (test: ts.Node, outcome: boolean): Facts => lasting(factsWhen(test, outcome, names))
  const branch = (condition: ts.Expression, facts: Facts, yes: ts.Node, no: ts.Node | undefined) => {
    const outcome = outcomeOf(condition, facts, names)
    look(condition, facts)
    if (outcome === false) tell(yes, condition, false)
    else look(yes, and(facts, learn(condition, true)))
    if (!no) return
    if (outcome === true) tell(no, condition, true)
    else look(no, and(facts, learn(condition, false)))
  }
  const statements = (list: readonly ts.Statement[], facts: Facts) => {
    let known = facts
    for (const statement of list) {
      look(statement, known)
      known = forget(known, statement, names)
      if (!ts.isIfStatement(statement)) continue
      const { expression, thenStatement, elseStatement } = statement
      const kept = (outcome: boolean) => forget(learn(expression, outcome), statement, names)
      if (leaves(thenStatement)) known = and(known, kept(false))
      else if (elseStatement && leaves(elseStatement)) known = and(known, kept(true))
    }
  }
  const look = (node: ts.Node, facts: Facts): void => {
    if (ts.isCallExpression(node)) told.call?.(node, facts)
    if (ts.isIfStatement(node)) return branch(node.expression, facts, node.thenStatement, node.elseStatement)
    if (ts.isConditionalExpression(node)) return branch(node.condition, facts, node.whenTrue, node.whenFalse)
    if (joins(node, ts.SyntaxKind.AmpersandAmpersandToken)) return branch(node.left, facts, node.right, undefined)
    if (ts.isBlock(node)) return statements(node.statements, facts)
    // A loop's body comes after itself; a function may run after what follows it.
    const again = isFunction(node) ? code : ts.isIterationStatement(node, false) ? node : null
    const known = again ? forget(facts, again, names) : facts
    ts.forEachChild(node, (child) => look(child, known))
  }
  look(code, lasting(start))
}
