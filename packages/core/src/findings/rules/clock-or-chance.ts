import ts from 'typescript'
import type { Rule } from '../types.js'
import { parameterOf, partOf, walk } from '../syntax.js'

export const clockOrChance: Rule = {
  meta: {
    name: 'clock-or-chance',
    severity: 'error',
    title: 'The time or chance taken from elsewhere than the context',
    why: 'A hook that gives other values at every run cannot be rehearsed or tested, and the sandbox has neither. clock is the time of the save; next(sequence) numbers records.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', each(row, _, { clock }) { row.now.next_test_due = clock.slice(0, 10) } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.next_test_due = new Date('2026-01-01').toISOString().slice(0, 10) } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.next_test_due = new Date().toISOString().slice(0, 10) } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.seed_estimate = Math.floor(Math.random() * 9) } }`,
      `{ table: 'lot', moment: 'before-save', each(row, _, { clock }) { row.now.seed_estimate = Date.now() } }`,
    ],
  },
  look({ hook, say }) {
    const context = parameterOf(partOf(hook, 'each'), 2)
    const hasClock =
      context !== null && ts.isObjectBindingPattern(context) && context.elements.some((each) => each.name.getText() === 'clock')
    const mend = (node: ts.Node, text: string, title: string) =>
      hasClock ? { title, edits: [{ start: node.getStart(), end: node.getEnd(), text }] } : null
    walk(hook.source, (node) => {
      if (ts.isNewExpression(node) && node.expression.getText() === 'Date' && (node.arguments?.length ?? 0) === 0)
        say(
          node,
          'new Date() is the machine’s clock: take clock from the third argument',
          mend(node, 'new Date(clock)', 'Write new Date(clock)'),
        )
      if (!ts.isCallExpression(node)) return
      const text = node.expression.getText()
      if (text === 'Date.now' || text === 'performance.now' || text === 'Date')
        say(
          node,
          `${text}() is the machine’s clock: take clock from the third argument`,
          text === 'Date' ? mend(node, 'clock', 'Write clock') : mend(node, 'Date.parse(clock)', 'Write Date.parse(clock)'),
        )
      if (text === 'Math.random' || text.startsWith('crypto.'))
        say(node, `${text}() is chance: a hook gives the same values at every run`)
    })
  },
}
