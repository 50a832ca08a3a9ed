import ts from '#typescript'
import { nodesOf, replaced, type Mutation } from '../mutation.js'

export const droppedRefusal: Mutation = {
  kind: 'dropped-refusal',
  says: 'a refusal is forgotten',
  examples: [
    {
      code: `{ table: 'lot', moment: 'before-save', each(row) { if (row.now.gross > 5) row.refuse('gross', 'no') } }`,
      changes: [`row.refuse('gross', 'no') → undefined`],
    },
  ],
  *changes(hook) {
    for (const node of nodesOf(hook.literal))
      if (ts.isCallExpression(node) && ts.isPropertyAccessExpression(node.expression) && node.expression.name.text === 'refuse')
        yield replaced(hook, node, 'undefined')
  },
}
