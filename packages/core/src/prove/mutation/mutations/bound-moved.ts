import ts from '#typescript'
import { once } from '../../../once.js'
import { nodesOf, replaced, type Mutation } from '../mutation.js'

const others = once(
  () =>
    new Map<ts.SyntaxKind, string>([
      [ts.SyntaxKind.GreaterThanToken, '>='],
      [ts.SyntaxKind.GreaterThanEqualsToken, '>'],
      [ts.SyntaxKind.LessThanToken, '<='],
      [ts.SyntaxKind.LessThanEqualsToken, '<'],
    ]),
)

export const boundMoved: Mutation = {
  kind: 'bound-moved',
  says: 'a bound is moved by one: > for >=',
  examples: [
    {
      code: `{ table: 'lot', moment: 'before-save', each(row) { if (row.now.gross > 5) row.now.net = 1 } }`,
      changes: ['> → >='],
    },
  ],
  *changes(hook) {
    for (const node of nodesOf(hook.literal)) {
      const other = ts.isBinaryExpression(node) ? others().get(node.operatorToken.kind) : undefined
      if (other) yield replaced(hook, (node as ts.BinaryExpression).operatorToken, other)
    }
  },
}
