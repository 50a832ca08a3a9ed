import ts from '#typescript'
import { nodesOf, replaced, type Mutation } from '../mutation.js'

const OTHER = new Map([
  ['round', 'floor'],
  ['floor', 'ceil'],
  ['ceil', 'floor'],
  ['trunc', 'round'],
  ['max', 'min'],
  ['min', 'max'],
])

export const otherRounding: Mutation = {
  kind: 'other-rounding',
  says: 'it is rounded the other way',
  examples: [
    {
      code: `{ table: 'lot', moment: 'before-save', each(row) { row.now.net = Math.round(row.now.gross) } }`,
      changes: ['round → floor'],
    },
  ],
  *changes(hook) {
    for (const node of nodesOf(hook.literal)) {
      if (!ts.isPropertyAccessExpression(node) || node.expression.getText(hook.source) !== 'Math') continue
      const other = OTHER.get(node.name.text)
      if (other) yield replaced(hook, node.name, other)
    }
  },
}
