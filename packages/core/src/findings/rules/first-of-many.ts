import ts from '#typescript'
import { parametersOf } from '../../syntax-tree.js'
import { bare, isFunction } from '../record-names.js'
import type { HookCode, Rule } from '../types.js'
import { calleeName, isCall, isLookup, onPurpose, parameterOf, partOf, walk } from '../syntax.js'
import { initializer, resultOf } from '../uses.js'

export const firstOfMany: Rule = {
  meta: {
    name: 'first-of-many',
    severity: 'warning',
    title: 'The first of many without an order',
    why: 'Without orderBy the first record is the one with the lowest id, which is seldom the one that is meant. Say the order, or take all.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', load: ({ store }) => store.find('site', { status: 'open' }, { fields: ['name'], orderBy: '-name', limit: 1 }), each(row) { row.now.bay ??= 'A' } }`,
    ],
    fail: [
      `{ table: 'collection', moment: 'before-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.id), ['bay', 'status']), each(row, lots) { row.now.label ??= lots.get(row.id)?.find(lot => lot.status === 'stored')?.bay ?? null } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ store }) => store.find('site', { status: 'open' }, { fields: ['name'] })[0], each(row) { row.now.bay ??= 'A' } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ store }) => store.find('site', { status: 'open' }, { fields: ['name'], limit: 1 }), each(row) { row.now.bay ??= 'A' } }`,
    ],
  },
  look({ hook, say }) {
    const said = (node: ts.CallExpression, at: ts.Node) => {
      const options = node.arguments[2] && bare(node.arguments[2])
      const literal = options && ts.isObjectLiteralExpression(options) ? options : null
      if ((literal && initializer(literal, 'orderBy')) || onPurpose(hook, node) || onPurpose(hook, at)) return
      const isFind = calleeName(node) === 'find'
      say(
        isFind ? node : at,
        isFind
          ? 'only the first is taken, and no order says which that is: add orderBy'
          : 'only the first of the children is taken, the one with the lowest id: take all, or say // on purpose',
        isFind && literal
          ? {
              title: "Add orderBy: '-id' (the latest)",
              edits: [{ start: literal.getEnd() - 1, end: literal.getEnd() - 1, text: `, orderBy: '-id' ` }],
            }
          : null,
      )
    }
    const loaded = loadedLookups(hook)
    walk(hook.definition, (node) => {
      if (isLookup(node, 'find')) {
        const options = node.arguments[2] && bare(node.arguments[2])
        const limit = options && ts.isObjectLiteralExpression(options) ? initializer(options, 'limit')?.getText() : undefined
        if (limit === '1' || isFirst(node)) said(node, node)
      }
      // What load found, read in each: found[0], or for children found.get(id)?.[0]
      if (ts.isIdentifier(node) && loaded.get(node.text) && !ts.isBindingElement(node.parent) && !ts.isParameter(node.parent)) {
        const lookup = loaded.get(node.text)!
        if (calleeName(lookup) === 'find' && isFirst(node)) said(lookup, node.parent)
        if (
          calleeName(lookup) === 'children' &&
          ts.isPropertyAccessExpression(node.parent) &&
          isCall(node.parent.parent, 'get') &&
          isFirst(node.parent.parent)
        )
          said(lookup, node.parent.parent)
      }
    })
  },
}

/**
 * Is only the first taken of the list that an expression is? `list[0]`, `list.at(0)`, `list.shift()`, `list.find(…)` other
 * than by id, `const [first] = list`, also `(list ?? [])[0]` and `list.filter(…)[0]`.
 */
function isFirst(list: ts.Node): boolean {
  let at = list
  while (
    bare(at.parent) !== at.parent ||
    (ts.isBinaryExpression(at.parent) && at.parent.operatorToken.kind === ts.SyntaxKind.QuestionQuestionToken)
  )
    at = at.parent
  const { parent } = at
  if (ts.isPropertyAccessExpression(parent) && ts.isCallExpression(parent.parent) && parent.parent.expression === parent) {
    const [argument] = parent.parent.arguments
    if (parent.name.text === 'filter' || parent.name.text === 'map') return isFirst(parent.parent)
    if (parent.name.text === 'shift') return true
    if (parent.name.text === 'find') return argument !== undefined && !asksForId(argument)
  }
  if (ts.isElementAccessExpression(parent) && parent.expression === at) return parent.argumentExpression.getText() === '0'
  if (ts.isPropertyAccessExpression(parent) && ts.isCallExpression(parent.parent) && calleeName(parent.parent) === 'at')
    return parent.parent.arguments[0]?.getText() === '0'
  return ts.isVariableDeclaration(parent) && ts.isArrayBindingPattern(parent.name) && parent.name.elements.length === 1
}

/** `each => each.id === …` finds one, whatever the order. */
function asksForId(predicate: ts.Expression): boolean {
  const parameter = isFunction(predicate) ? parametersOf(predicate)[0]?.name : undefined
  if (!parameter) return false
  const own = ts.isIdentifier(parameter) ? `${parameter.text}.id` : 'id'
  let isFirst = false
  walk(predicate, (node) => {
    if (ts.isBinaryExpression(node) && [node.left, node.right].some((side) => bare(side).getText() === own)) isFirst = true
  })
  return isFirst
}

/** The names that each has for what load gives back, with the look-up that it is. */
function loadedLookups(hook: HookCode): Map<string, ts.CallExpression> {
  const lookUps = new Map<string, ts.CallExpression>()
  const load = partOf(hook, 'load')
  const result = load && isFunction(load) ? resultOf(load) : undefined
  const parameter = parameterOf(partOf(hook, 'each'), 1)
  if (!result || !parameter) return lookUps
  const given = bare(result)
  if (ts.isIdentifier(parameter) && isLookup(given)) lookUps.set(parameter.text, given)
  if (ts.isObjectBindingPattern(parameter) && ts.isObjectLiteralExpression(given))
    for (const element of parameter.elements) {
      const key = (element.propertyName ?? element.name).getText()
      const value = initializer(given, key)
      if (value && ts.isIdentifier(element.name) && isLookup(bare(value)))
        lookUps.set(element.name.text, bare(value) as ts.CallExpression)
    }
  return lookUps
}
