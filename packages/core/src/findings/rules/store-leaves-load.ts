import ts from '#typescript'
import { isFunction } from '../record-names.js'
import type { Rule } from '../types.js'
import { isLookup, partOf, walk } from '../syntax.js'

export const storeLeavesLoad: Rule = {
  meta: {
    name: 'store-leaves-load',
    severity: 'error',
    title: 'The store handed on to each',
    why: 'Queries are made in load and finish, once for the whole batch; in each the store is an error when it is used. Read what each needs in load, and give it on as load’s result.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => ({ species: store.byId('species', rows.map(r => r.now.species), ['name']) }), each(row, { species }) { row.now.bay ??= species.get(row.now.species)?.name ?? null } }`,
      `{ table: 'lot', moment: 'before-save', load({ rows, store }) { const ask = (ids) => store.byId('species', ids, ['name']); return ask(rows.map(r => r.now.species)) }, each(row, found) { row.now.bay ??= found.get(row.now.species)?.name ?? null } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', load: ({ store }) => store, each(row, store) { row.now.bay ??= store.byId('species', [row.now.species], ['name']).get(row.now.species)?.name ?? null } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => ({ store, count: rows.length }), each(row, loaded) { row.now.bay ??= loaded.store.byId('species', [row.now.species], ['name']).get(row.now.species)?.name ?? null } }`,
      `{ table: 'lot', moment: 'before-save', load({ store }) { return { nameOf: (id) => store.byId('species', [id], ['name']).get(id)?.name } }, each(row, { nameOf }) { row.now.bay ??= nameOf(row.now.species) ?? null } }`,
    ],
  },
  look({ hook, say }) {
    const load = partOf(hook, 'load')
    const each = partOf(hook, 'each')
    const tell = (node: ts.Node) => say(node, 'the store is there in load and finish only: read what each needs in load')
    if (load)
      walk(load, (node) => {
        if (!isStore(node) || !isFunction(load)) return
        if (isGivenOn(node) || isWithinGivenOn(node, load)) tell(node)
      })
    // The store of a batch, reached in each by whichever name.
    if (each)
      walk(each, (node) => {
        if (isLookup(node)) tell(node)
      })
  },
}

/** The name itself, not the parameter it comes from nor a property of that name. */
function isStore(node: ts.Node): node is ts.Identifier {
  if (!ts.isIdentifier(node) || node.text !== 'store') return false
  const { parent } = node
  return !ts.isBindingElement(parent) && !ts.isParameter(parent) && !(ts.isPropertyAssignment(parent) && parent.name === node)
}

/** Is the value given back, put into an object or list, or assigned to something from outside? */
function isGivenOn(node: ts.Node): boolean {
  const whole = ts.isPropertyAccessExpression(node.parent) && node.parent.name === node ? node.parent : node
  const { parent } = whole
  return (
    ts.isReturnStatement(parent) ||
    (ts.isArrowFunction(parent) && parent.body === whole) ||
    ts.isShorthandPropertyAssignment(parent) ||
    (ts.isPropertyAssignment(parent) && parent.initializer === whole) ||
    ts.isArrayLiteralExpression(parent) ||
    (ts.isBinaryExpression(parent) && parent.right === whole && parent.operatorToken.kind === ts.SyntaxKind.EqualsToken) ||
    (ts.isParenthesizedExpression(parent) && isGivenOn(parent))
  )
}

/** Does it is in a function that is given on? */
function isWithinGivenOn(node: ts.Node, load: ts.Node): boolean {
  for (let at = node.parent; at && at !== load; at = at.parent)
    if (ts.isMethodDeclaration(at) || (isFunction(at) && isGivenOn(at))) return true
  return false
}
