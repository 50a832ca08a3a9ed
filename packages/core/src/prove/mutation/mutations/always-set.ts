import ts from '#typescript'
import { nodesOf, replaced, type Mutation } from '../mutation.js'

export const alwaysSet: Mutation = {
  kind: 'always-set',
  says: '= for ??=: what was typed is overwritten',
  examples: [{ code: `{ table: 'lot', moment: 'before-save', each(row) { row.now.net ??= 1 } }`, changes: ['??= → ='] }],
  *changes(hook) {
    for (const node of nodesOf(hook.literal))
      if (ts.isBinaryExpression(node) && node.operatorToken.kind === ts.SyntaxKind.QuestionQuestionEqualsToken)
        yield replaced(hook, node.operatorToken, '=')
  },
}
