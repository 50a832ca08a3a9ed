import ts from '#typescript'
import type { Rule } from '../types.js'
import { bare, isFunction, ownField } from '../record-names.js'
import { isCall, isLookup, walk } from '../syntax.js'

export const mixedIds: Rule = {
  meta: {
    name: 'mixed-ids',
    severity: 'error',
    title: 'An id that is a number in one place and text in another',
    why: 'Ids and links are integers. A look-up by text finds nothing, and a comparison of an id with text is never true.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['name']), each(row, found) { row.now.bay ??= found.get(row.now.species)?.name ?? null } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => new Map([...store.byId('species', rows.map(r => r.now.species), ['name']).values()].map(each => [String(each.id), each])), each(row, found: any) { row.now.bay ??= found.get(row.now.species)?.name ?? null } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['name']), each(row, found) { row.now.bay ??= found.get(String(row.now.species))?.name ?? null } }`,
      `{ table: 'lot', moment: 'before-save', only: row => row.now.species === '5', each(row) { row.now.bay = 'A' } }`,
    ],
  },
  look({ hook, say }) {
    const isId = (node: ts.Node): boolean => {
      const name = ownField(node, hook.names, 'any')
      if (name !== null && name !== 'id') return hook.table.fields.some((field) => field.name === name && field.link !== null)
      const inner = bare(node)
      return ts.isPropertyAccessExpression(inner) && inner.name.text === 'id'
    }
    const asText = (node: ts.Node | undefined): ts.Expression | null => {
      if (!node) return null
      if (
        ts.isCallExpression(node) &&
        ts.isIdentifier(node.expression) &&
        node.expression.text === 'String' &&
        node.arguments[0] &&
        isId(node.arguments[0])
      )
        return node.arguments[0]
      if (
        ts.isTemplateExpression(node) &&
        node.templateSpans.length === 1 &&
        node.head.text === '' &&
        node.templateSpans[0]!.literal.text === '' &&
        isId(node.templateSpans[0]!.expression)
      )
        return node.templateSpans[0]!.expression
      if (isCall(node, 'toString') && ts.isPropertyAccessExpression(node.expression) && isId(node.expression.expression))
        return node.expression.expression
      return null
    }
    const sayNumber = (at: ts.Node, id: ts.Expression, message: string) =>
      say(at, message, { title: 'Take the number', edits: [{ start: at.getStart(), end: at.getEnd(), text: id.getText() }] })
    walk(hook.definition, (node) => {
      if (ts.isCallExpression(node) && isCall(node, 'get', 'has')) {
        const [key] = node.arguments
        const id = asText(key)
        if (key && id) sayNumber(key, id, 'ids are numbers here: a look-up by text finds nothing')
      }
      // A map of what was found, by its id as text: new Map(found.map(each => [String(each.id), each]))
      if (ts.isArrayLiteralExpression(node) && node.elements.length === 2 && isGiven(node)) {
        const id = asText(node.elements[0])
        if (id) sayNumber(node.elements[0]!, id, 'ids are numbers here: a map by text finds nothing by number')
      }
      // The ids of a look-up, made by map: rows.map(row => String(row.now.species))
      if (isLookup(node, 'byId', 'children', 'rollup'))
        walk(node, (inner) => {
          if (!isFunction(inner) || !inner.body || ts.isBlock(inner.body)) return
          const given = asText(bare(inner.body) as ts.Expression)
          if (given) sayNumber(inner.body, given, 'ids are numbers here: a look-up by text is an error')
        })
      if (
        ts.isBinaryExpression(node) &&
        ts.isStringLiteralLike(node.right) &&
        isId(node.left) &&
        /^[!=]==?$/.test(node.operatorToken.getText())
      ) {
        const { text } = node.right
        const number = /^\d+$/.test(text)
        say(
          node.right,
          `${node.left.getText()} is a number, which never equals text`,
          number ? { title: `Write ${text}`, edits: [{ start: node.right.getStart(), end: node.right.getEnd(), text }] } : null,
        )
      }
    })
  },
}

/** Is it what a function gives back? */
const isGiven = ({ parent }: ts.Node): boolean =>
  ts.isParenthesizedExpression(parent) ? isGiven(parent) : isFunction(parent) || ts.isReturnStatement(parent)
