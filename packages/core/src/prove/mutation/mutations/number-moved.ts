import ts from '#typescript'
import { nodesOf, replaced, type Mutation } from '../mutation.js'

export const numberMoved: Mutation = {
  kind: 'number-moved',
  says: 'a number of the code is another',
  examples: [{ code: `{ table: 'lot', moment: 'before-save', each(row) { row.now.net = 10 } }`, changes: ['10 → 11'] }],
  *changes(hook) {
    for (const node of nodesOf(hook.literal))
      if (ts.isNumericLiteral(node) && !ts.isPropertyAssignment(node.parent))
        yield replaced(hook, node, String(Number(node.text) + 1))
  },
}
