import ts from '#typescript'
import { fieldOf, nodesOf, type Mutation } from '../mutation.js'

export const wasForNow: Mutation = {
  kind: 'was-for-now',
  says: 'the old value is read for the new one, and the new one for the old one',
  examples: [
    {
      code: `{ table: 'lot', moment: 'before-save', each(row) { row.now.net = row.now.gross } }`,
      changes: ['row.now.gross → (row.was ?? row.now).gross'],
    },
    {
      code: `{ table: 'lot', moment: 'before-save', on: ['update'], each(row) { if (row.was.gross) row.now.net = 1 } }`,
      changes: ['row.was.gross → row.now.gross'],
    },
  ],
  *changes(hook) {
    const { source } = hook
    for (const node of nodesOf(hook.literal)) {
      const read = fieldOf(node)
      if (!read || isWritten(read.node)) continue
      const row = (read.node.expression as typeof read.node).expression.getText(source)
      const record = read.side === 'now' ? `(${row}.was ?? ${row}.now)` : `${row}.now`
      yield { start: read.node.getStart(source), end: read.node.getEnd(), text: `${record}.${read.field}` }
    }
  },
}

/** The left side of an assignment. */
function isWritten(node: ts.Node): boolean {
  const { parent } = node
  return (
    ts.isBinaryExpression(parent) &&
    parent.left === node &&
    parent.operatorToken.kind >= ts.SyntaxKind.FirstAssignment &&
    parent.operatorToken.kind <= ts.SyntaxKind.LastAssignment
  )
}
