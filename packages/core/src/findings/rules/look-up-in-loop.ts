import ts from '#typescript'
import { isFunction } from '../record-names.js'
import { LOOPING } from '../scope.js'
import type { Rule } from '../types.js'
import { calleeName, isLookup, walk } from '../syntax.js'

const LOOPS = [...LOOPING, 'reduce']

export const lookUpInLoop: Rule = {
  meta: {
    name: 'look-up-in-loop',
    severity: 'error',
    title: 'A look-up within a loop',
    why: 'One query for each row is the trap that only shows in bulk. Ask once for the whole batch: give byId or children all ids.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['name']), each(row) { row.now.bay ??= 'A' } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => rows.map(r => store.byId('species', [r.now.species], ['name'])), each(row) { row.now.bay ??= 'A' } }`,
      `{ table: 'lot', moment: 'after-save', finish({ rows, store, update }) { for (const row of rows) { const [c] = store.find('collection', { id: row.now.collection }, { fields: ['label'], orderBy: 'id' }); if (c) update('collection', c.id, { label: 'x' }) } } }`,
    ],
  },
  look({ hook, say }) {
    const top = hook.definition
    /** Local functions that are called in a loop loop themselves. */
    const looped = new Set<string>()
    const inLoop = (node: ts.Node): boolean => {
      for (let at: ts.Node = node; at !== top && at.parent; at = at.parent) {
        if (isLoopBody(at)) return true
        const owner = at.parent
        if (isFunction(at) && ts.isVariableDeclaration(owner) && ts.isIdentifier(owner.name) && looped.has(owner.name.text))
          return true
        if (ts.isFunctionDeclaration(at) && at.name && looped.has(at.name.text)) return true
      }
      return false
    }
    for (let known = -1; known !== looped.size;) {
      known = looped.size
      walk(top, (node) => {
        if (ts.isCallExpression(node) && ts.isIdentifier(node.expression) && inLoop(node)) looped.add(node.expression.text)
        // rows.map(one): the function itself is handed to the loop.
        if (ts.isCallExpression(node) && LOOPS.includes(calleeName(node)))
          for (const each of node.arguments) if (ts.isIdentifier(each)) looped.add(each.text)
      })
    }
    walk(top, (node) => {
      if (isLookup(node) && inLoop(node))
        say(node, `${calleeName(node)} is asked once for each turn of a loop: ask once for the whole batch`)
      else if (ts.isCallExpression(node) && node.arguments.some(isStore) && inLoop(node))
        say(node, `${calleeName(node)} is given the store once for each turn of a loop: give it all ids at once`)
    })
  },
}

const isStore = (node: ts.Node): boolean =>
  (ts.isIdentifier(node) && node.text === 'store') || (ts.isPropertyAccessExpression(node) && node.name.text === 'store')

function isLoopBody(at: ts.Node): boolean {
  const { parent } = at
  if (
    ts.isForOfStatement(parent) ||
    ts.isForInStatement(parent) ||
    ts.isForStatement(parent) ||
    ts.isWhileStatement(parent) ||
    ts.isDoStatement(parent)
  )
    return parent.statement === at
  return isFunction(at) && ts.isCallExpression(parent) && LOOPS.includes(calleeName(parent)) && !isLookup(parent)
}
