import ts from '#typescript'
import { nodesOf, replaced, type Mutation } from '../mutation.js'

export const droppedNullCheck: Mutation = {
  kind: 'dropped-null-check',
  says: 'the fallback for a missing value is dropped: the right side of ??, or a return for null',
  examples: [
    {
      code: `{ table: 'lot', moment: 'before-save', each(row) { row.now.net = row.now.gross ?? 0 } }`,
      changes: ['row.now.gross ?? 0 → row.now.gross'],
    },
    {
      code: `{ table: 'lot', moment: 'before-save', each(row) { if (row.now.gross === null) return; row.now.net = 1 } }`,
      changes: ['if (row.now.gross === null) return; → '],
    },
  ],
  *changes(hook) {
    const { source } = hook
    for (const node of nodesOf(hook.literal)) {
      if (ts.isBinaryExpression(node) && node.operatorToken.kind === ts.SyntaxKind.QuestionQuestionToken)
        yield replaced(hook, node, node.left.getText(source))
      if (ts.isIfStatement(node) && !node.elseStatement && /null|undefined/.test(node.expression.getText(source)) && leaves(node))
        yield replaced(hook, node, '')
    }
  },
}

function leaves({ thenStatement }: ts.IfStatement): boolean {
  const [only] = ts.isBlock(thenStatement) ? thenStatement.statements : [thenStatement]
  return only !== undefined && ((ts.isReturnStatement(only) && !only.expression) || ts.isContinueStatement(only))
}
