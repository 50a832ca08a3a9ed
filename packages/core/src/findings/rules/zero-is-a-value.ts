import ts from '#typescript'
import type { Field } from '../../model/types.js'
import { bare, ownField } from '../record-names.js'
import type { Rule } from '../types.js'
import { isAssignment, onPurpose, walk } from '../syntax.js'

export const zeroIsAValue: Rule = {
  meta: {
    name: 'zero-is-a-value',
    severity: 'warning',
    title: 'A typed 0 or no that is taken for nothing',
    why: '|| and ||= take 0 and false for empty, and replace what was typed. ??= and ?? replace null only.',
  },
  examples: {
    pass: [
      `{ table: 'request_line', moment: 'before-save', each(row) { row.now.seeds ??= 50 } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay ||= 'A1' } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.net_mass_g = (row.now.gross_mass_g || 0) - (row.now.tare_mass_g || 0) } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.tare_mass_g ||= 50 } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.tare_mass_g = row.now.tare_mass_g || 50 } }`,
      `{ table: 'lot', moment: 'before-save', each({ now }) { if (!now.tare_mass_g) now.tare_mass_g = 50 } }`,
    ],
  },
  look({ hook, say }) {
    if (hook.moment !== 'before-save') return
    const loses = (name: string | null): name is string => {
      const field = hook.table.fields.find((each) => each.name === name)
      return field !== undefined && holdsZero(field)
    }
    const tell = (at: ts.Node, field: string, edit: { start: number; end: number; text: string }, title: string) => {
      if (!onPurpose(hook, at))
        say(at, `a typed ${isFlag(field) ? 'no' : '0'} in ${field} is replaced too`, { title, edits: [edit] })
    }
    const isFlag = (name: string) => hook.table.fields.find((each) => each.name === name)?.type === 'boolean'
    walk(hook.definition, (node) => {
      if (ts.isBinaryExpression(node) && node.operatorToken.kind === ts.SyntaxKind.BarBarEqualsToken) {
        const field = ownField(node.left, hook.names)
        if (loses(field)) tell(node, field, { ...place(node.operatorToken), text: '??=' }, 'Write ??=')
      }
      if (isAssignment(node)) {
        const field = ownField(node.left, hook.names)
        const value = bare(node.right)
        if (
          loses(field) &&
          ts.isBinaryExpression(value) &&
          value.operatorToken.kind === ts.SyntaxKind.BarBarToken &&
          ownField(value.left, hook.names) === field &&
          !isNothing(value.right)
        )
          tell(node, field, { ...place(value.operatorToken), text: '??' }, 'Write ??')
      }
      if (ts.isIfStatement(node)) {
        const test = bare(node.expression)
        if (!ts.isPrefixUnaryExpression(test) || test.operator !== ts.SyntaxKind.ExclamationToken) return
        const field = ownField(test.operand, hook.names)
        if (!loses(field)) return
        walk(node.thenStatement, (inner) => {
          if (isAssignment(inner) && ownField(inner.left, hook.names) === field && !isNothing(inner.right))
            tell(test, field, { ...place(test), text: `${test.operand.getText()} === null` }, 'Ask for null')
        })
      }
    })
  },
}

const place = (node: ts.Node) => ({ start: node.getStart(), end: node.getEnd() })

/** 0 and false replaced by 0, false or null lose nothing that a reader would miss. */
const isNothing = (node: ts.Node): boolean => ['0', 'false', 'null'].includes(bare(node).getText())

function holdsZero({ type, link, enum: choices, minimum, exclusiveMinimum, maximum }: Field): boolean {
  if (link || type === 'string') return false
  if (type === 'boolean') return true
  if (choices) return choices.includes(0)
  return (minimum ?? -1) <= 0 && (exclusiveMinimum ?? -1) < 0 && (maximum ?? 1) >= 0
}
