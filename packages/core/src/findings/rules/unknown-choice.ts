import ts from 'typescript'
import { nearest } from '../../model/names.js'
import type { Rule } from '../types.js'
import type { Field } from '../../model/types.js'
import { bare, ownField } from '../record-names.js'
import { isCall, namedValues, walk } from '../syntax.js'

export const unknownChoice: Rule = {
  meta: {
    name: 'unknown-choice',
    severity: 'error',
    title: 'An enum value that the field does not have',
    why: 'A comparison with a value that is not among the choices is never true; setting one is refused. Enum values are written exactly as in the table.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', only: row => row.now.status === 'stored', each(row) { row.now.alarm = 'none' } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', only: row => row.now.status === 'Stored', each(row) { row.now.bay = 'A' } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.alarm = 'off' } }`,
    ],
  },
  look({ hook, tables, say }) {
    const check = (field: Field | undefined, value: ts.Node): void => {
      for (const node of literals(value)) {
        const { text } = node
        if (!field?.enum || field.enum.includes(text)) continue
        const choices = field.enum.map(String)
        const meant = nearest(text, choices)
        const mend = meant !== null && {
          title: `Write '${meant}'`,
          edits: [{ start: node.getStart(), end: node.getEnd(), text: `'${meant}'` }],
        }
        say(node, `${field.name} has no choice '${text}'; it has ${choices.join(', ')}`, mend || null)
      }
    }
    const own = (node: ts.Node): Field | undefined => {
      const name = ownField(node, hook.names, 'any')
      return hook.table.fields.find((each) => each.name === name)
    }
    walk(hook.definition, (node) => {
      if (ts.isBinaryExpression(node) && COMPARED.has(node.operatorToken.kind)) check(own(node.left), node.right)
      if (ts.isSwitchStatement(node))
        for (const clause of node.caseBlock.clauses) if (ts.isCaseClause(clause)) check(own(node.expression), clause.expression)
      if (!ts.isCallExpression(node)) return
      // ['stored', 'drying'].includes(row.now.status)
      const { expression } = node
      if (isCall(node, 'includes') && ts.isPropertyAccessExpression(expression) && node.arguments[0]) {
        const list = bare(expression.expression)
        if (ts.isArrayLiteralExpression(list)) for (const each of list.elements) check(own(node.arguments[0]), each)
      }
      const named = namedValues(node, tables)
      for (const { field, value } of named?.values ?? []) {
        const condition = bare(value)
        if (named!.conditions && ts.isObjectLiteralExpression(condition)) {
          for (const part of condition.properties)
            if (ts.isPropertyAssignment(part) && ['eq', 'not', 'in'].includes(part.name.getText())) check(field, part.initializer)
        } else check(field, value)
      }
    })
  },
}

const COMPARED = new Set([
  ts.SyntaxKind.EqualsToken,
  ts.SyntaxKind.QuestionQuestionEqualsToken,
  ts.SyntaxKind.BarBarEqualsToken,
  ts.SyntaxKind.EqualsEqualsEqualsToken,
  ts.SyntaxKind.ExclamationEqualsEqualsToken,
  ts.SyntaxKind.EqualsEqualsToken,
  ts.SyntaxKind.ExclamationEqualsToken,
])

/** The texts that an expression may be: itself, both sides of ?:, what follows ?? or ||, the items of a list. */
function literals(expression: ts.Node): ts.StringLiteralLike[] {
  const node = bare(expression)
  if (ts.isStringLiteralLike(node)) return [node]
  if (ts.isConditionalExpression(node)) return [...literals(node.whenTrue), ...literals(node.whenFalse)]
  if (ts.isArrayLiteralExpression(node)) return node.elements.flatMap(literals)
  if (
    ts.isBinaryExpression(node) &&
    (node.operatorToken.kind === ts.SyntaxKind.QuestionQuestionToken || node.operatorToken.kind === ts.SyntaxKind.BarBarToken)
  )
    return [...literals(node.left), ...literals(node.right)]
  return []
}
