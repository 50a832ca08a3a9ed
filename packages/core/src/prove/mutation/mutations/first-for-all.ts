import ts from '#typescript'
import { initializer, property } from '../../../findings/uses.js'
import { nodesOf, type Mutation } from '../mutation.js'

export const firstForAll: Mutation = {
  kind: 'first-for-all',
  says: 'only the first row of the batch is looked at in load and finish',
  examples: [
    {
      code: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('lot', rows.map(row => row.id)), each(row) { row.now.net = 1 } }`,
      changes: ['rows → rows.slice(0, 1)'],
    },
  ],
  *changes(hook) {
    for (const part of ['load', 'finish']) {
      const owner = initializer(hook.literal, part) ?? property(hook.literal, part)
      for (const node of owner ? nodesOf(owner) : [])
        if (ts.isIdentifier(node) && node.text === 'rows' && isRead(node))
          yield { start: node.getStart(hook.source), end: node.getEnd(), text: 'rows.slice(0, 1)' }
    }
  },
}

/** A use of the name, and no place where it is bound or that is called so. */
function isRead(node: ts.Identifier): boolean {
  const { parent } = node
  if (ts.isBindingElement(parent) || ts.isParameter(parent)) return false
  if (ts.isPropertyAssignment(parent) || ts.isShorthandPropertyAssignment(parent)) return false
  return !(ts.isPropertyAccessExpression(parent) && parent.name === node)
}
