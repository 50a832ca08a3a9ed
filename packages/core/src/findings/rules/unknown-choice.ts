import ts from '#typescript'
import { once } from '../../once.js'
import { nearest } from '../../model/names.js'
import type { Rule } from '../types.js'
import type { Field } from '../../model/types.js'
import { bare, ownField } from '../record-names.js'
import { isCall, loadedTables, namedValues, rootOf, walk, ways } from '../syntax.js'

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
      `{ table: 'lot', moment: 'before-save', watch: ['species'], load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['care_level']), each(row, found) { row.now.alarm ??= (found.get(row.now.species!)?.care_level ?? null) as any } }`,
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
        const fix = meant !== null && {
          title: `Write '${meant}'`,
          edits: [{ start: node.getStart(), end: node.getEnd(), text: `'${meant}'` }],
        }
        say(node, `${field.name} has no choice '${text}'; it has ${choices.join(', ')}`, fix || null)
      }
    }
    const loaded = loadedTables(hook, tables)
    /** A field of another record, or of this one, whose choices the target does not all have. */
    const checkCopy = (field: Field | undefined, value: ts.Node): void => {
      for (const node of sources(value)) {
        const table = ownField(node, hook.names, 'any') === null ? loaded.get(rootOf(node) ?? '') : hook.table
        const from = table?.fields.find((each) => each.name === node.name.text)
        const strange = field?.enum && from?.enum ? from.enum.filter((each) => !field.enum!.includes(each)) : []
        if (strange.length > 0)
          say(
            node,
            `${table!.name}.${from!.name} may be ${strange.join(' or ')}, which ${field!.name} does not have; it has ${field!.enum!.join(', ')}: say what each becomes`,
          )
      }
    }
    const own = (node: ts.Node): Field | undefined => {
      const name = ownField(node, hook.names, 'any')
      return hook.table.fields.find((each) => each.name === name)
    }
    walk(hook.definition, (node) => {
      if (ts.isBinaryExpression(node) && compared().has(node.operatorToken.kind)) {
        check(own(node.left), node.right)
        if (setting().has(node.operatorToken.kind)) checkCopy(own(node.left), node.right)
      }
      if (ts.isSwitchStatement(node))
        for (const clause of node.caseBlock.clauses) if (ts.isCaseClause(clause)) check(own(node.expression), clause.expression)
      if (!ts.isCallExpression(node)) return
      // ['stored', 'drying'].includes(row.now.status)
      const { expression } = node
      if (isCall(node, 'includes') && ts.isPropertyAccessExpression(expression) && node.arguments[0]) {
        const list = bare(expression.expression)
        if (ts.isArrayLiteralExpression(list)) for (const each of list.elements) check(own(node.arguments[0]), each)
      }
      for (const { conditions, values } of namedValues(node, tables))
        for (const { field, value } of values) {
          const condition = bare(value)
          if (conditions && ts.isObjectLiteralExpression(condition)) {
            for (const part of condition.properties)
              if (ts.isPropertyAssignment(part) && ['eq', 'not', 'in'].includes(part.name.getText()))
                check(field, part.initializer)
          } else {
            check(field, value)
            if (!conditions) checkCopy(field, value)
          }
        }
    })
  },
}

const setting = once(
  () => new Set([ts.SyntaxKind.EqualsToken, ts.SyntaxKind.QuestionQuestionEqualsToken, ts.SyntaxKind.BarBarEqualsToken]),
)
const compared = once(
  () =>
    new Set([
      ...setting(),
      ts.SyntaxKind.EqualsEqualsEqualsToken,
      ts.SyntaxKind.ExclamationEqualsEqualsToken,
      ts.SyntaxKind.EqualsEqualsToken,
      ts.SyntaxKind.ExclamationEqualsToken,
    ]),
)

const literals = (expression: ts.Node): ts.StringLiteralLike[] => ways(expression).filter(ts.isStringLiteralLike)
const sources = (expression: ts.Node): ts.PropertyAccessExpression[] => ways(expression).filter(ts.isPropertyAccessExpression)
