import ts from '#typescript'
import { once } from '../../../once.js'
import { nodesOf, replaced, type Mutation } from '../mutation.js'

const others = once(
  () =>
    new Map<ts.SyntaxKind, string>([
      [ts.SyntaxKind.EqualsEqualsEqualsToken, '!=='],
      [ts.SyntaxKind.ExclamationEqualsEqualsToken, '==='],
    ]),
)

export const equality: Mutation = {
  kind: 'equality',
  says: '=== for !==, and the other way round',
  examples: [
    {
      code: `{ table: 'lot', moment: 'before-save', each(row) { if (row.now.gross === null) return; if (row.now.net !== 1) row.now.net = 1 } }`,
      changes: ['=== → !==', '!== → ==='],
    },
  ],
  *changes(hook) {
    for (const node of nodesOf(hook.literal))
      if (ts.isBinaryExpression(node)) {
        const other = others().get(node.operatorToken.kind)
        if (other) yield replaced(hook, node.operatorToken, other)
      }
  },
}
