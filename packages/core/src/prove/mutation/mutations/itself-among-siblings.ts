import ts from '#typescript'
import { nodesOf, replaced, type Mutation } from '../mutation.js'

export const itselfAmongSiblings: Mutation = {
  kind: 'itself-among-siblings',
  says: 'the record itself is not left out among its siblings',
  examples: [
    {
      code: `{ table: 'lot', moment: 'after-save', each(row, lots, { update }) { for (const lot of lots) if (lot.id !== row.id) update('lot', lot.id, {}) } }`,
      changes: ['lot.id !== row.id → true'],
    },
    {
      code: `{ table: 'lot', moment: 'after-save', each(row, _, { update }) { update('lot', { bay: row.now.bay, id: { not: row.id } }, {}) } }`,
      changes: ['id: { not: row.id } → '],
    },
  ],
  *changes(hook) {
    const { source } = hook
    const isId = (node: ts.Node) => ts.isPropertyAccessExpression(node) && node.name.text === 'id'
    for (const node of nodesOf(hook.literal)) {
      if (
        ts.isBinaryExpression(node) &&
        node.operatorToken.kind === ts.SyntaxKind.ExclamationEqualsEqualsToken &&
        isId(node.left) &&
        isId(node.right)
      )
        yield replaced(hook, node, 'true')
      if (ts.isPropertyAssignment(node) && /^id:\s*\{\s*not:/.test(node.getText(source))) yield replaced(hook, node, '')
    }
  },
}
