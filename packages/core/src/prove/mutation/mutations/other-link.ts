import ts from '#typescript'
import { nodesOf, replaced, type Mutation } from '../mutation.js'

export const otherLink: Mutation = {
  kind: 'other-link',
  says: 'another link is followed to a table’s children',
  examples: [
    {
      code: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.children('move', 'from', rows.map(row => row.id)), each(row) { row.now.net = 1 } }`,
      changes: [`'from' → 'to'`],
    },
  ],
  *changes(hook) {
    for (const node of nodesOf(hook.literal)) {
      if (!ts.isCallExpression(node) || !ts.isPropertyAccessExpression(node.expression)) continue
      if (!/^(children|rollup)$/.test(node.expression.name.text)) continue
      const [table, link] = node.arguments
      if (!table || !link || !ts.isStringLiteralLike(table) || !ts.isStringLiteralLike(link)) continue
      const other = hook.project.tables.get(table.text)?.fields.find((field) => field.link && field.name !== link.text)
      if (other) yield replaced(hook, link, `'${other.name}'`)
    }
  },
}
