import ts from 'typescript'
import type { Rule } from '../types.js'
import { isOwnId, ownField } from '../record-names.js'
import { isAssignment, isCall, stringOf, walk } from '../syntax.js'

export const noEffect: Rule = {
  meta: {
    name: 'no-effect',
    severity: 'warning',
    title: 'A watch entry given twice, a refuse that is never reached, a value set to what is there',
    why: 'It does nothing, so it is probably not what was meant.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', watch: ['bay'], each(row) { if (row.now.bay === null) { row.refuse('bay', 'needed'); return } row.now.alarm = 'none' } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', watch: ['bay', 'bay'], each(row) { row.now.alarm = row.now.bay === null ? 'act' : 'none' } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay = row.now.bay } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { return\nrow.refuse('bay', 'no') } }`,
      `{ table: 'lot', moment: 'before-save', on: ['delete'], watch: ['bay'], each(row) { if (row.was.bay === 'Q1') row.refuse(null, 'kept') } }`,
    ],
  },
  look({ hook, say }) {
    hook.watch.forEach(({ text, node }, index) => {
      if (hook.watch.findIndex((each) => each.text === text) < index)
        say(node, `${text} is watched already`, {
          title: 'Take it out',
          edits: [{ start: hook.watch[index - 1]!.node.getEnd(), end: node.getEnd(), text: '' }],
        })
    })
    const [first] = hook.watch
    if (first && !hook.on.includes('create') && !hook.on.includes('update'))
      say(first.node, 'watch does not apply to deletes: the hook runs for each of them')
    walk(hook.definition, (node) => {
      if (
        isAssignment(node) &&
        ownField(node.left, hook.names) !== null &&
        ownField(node.left, hook.names) === ownField(node.right, hook.names)
      )
        say(node, 'this sets the field to the value it has')
      if (
        isCall(node, 'update') &&
        stringOf(node.arguments[0]) === hook.table.name &&
        node.arguments[1] &&
        isOwnId(node.arguments[1], hook.names)
      ) {
        const values = node.arguments[2]
        if (
          values &&
          ts.isObjectLiteralExpression(values) &&
          values.properties.length > 0 &&
          values.properties.every(
            (each) => ts.isPropertyAssignment(each) && ownField(each.initializer, hook.names) === each.name.getText(),
          )
        )
          say(node, 'the effect sets what is there already: nothing would be saved')
      }
      if (ts.isIfStatement(node) && node.expression.kind === ts.SyntaxKind.FalseKeyword)
        say(node.thenStatement, 'this is never reached: the condition is always false')
      if (!ts.isBlock(node)) return
      const end = node.statements.findIndex((each) => ts.isReturnStatement(each) || ts.isThrowStatement(each))
      const after = end >= 0 ? node.statements.slice(end + 1).find((each) => !ts.isFunctionDeclaration(each)) : undefined
      if (after) say(after, 'this is never reached: the function has returned')
    })
  },
}
