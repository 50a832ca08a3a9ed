import ts from '#typescript'
import { bare, isOwnId, ownField } from '../record-names.js'
import type { HookCode, Rule } from '../types.js'
import { calleeName, isCall, isLookup, mentions, onPurpose, parameterOf, partOf, stringOf, walk } from '../syntax.js'
import { property, resultOf } from '../uses.js'

export const namedOneByOne: Rule = {
  meta: {
    name: 'named-one-by-one',
    severity: 'hint',
    title: 'Children that are looked up only to be written to',
    why: 'update and remove take a condition in place of an id: the records need not be read first, and conditions of all rows are looked up together.',
  },
  examples: {
    pass: [
      `{ table: 'collection', moment: 'after-save', watch: ['label'], each(row, _, { update }) { update('lot', { collection: row.id }, { bay: row.now.label }) } }`,
      `{ table: 'collection', moment: 'after-save', watch: ['label'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.id), ['bay']), each(row, lots, { update }) { for (const lot of lots.get(row.id) ?? []) update('lot', lot.id, { bay: lot.bay + '!' }) } }`,
      `{ table: 'collection', moment: 'after-save', watch: ['label'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.id), ['bay']), each(row, lots, { update }) { for (const lot of lots.get(row.id) ?? []) if (lot.bay === null) update('lot', lot.id, { bay: 'A' }) } }`,
    ],
    fail: [
      `{ table: 'collection', moment: 'after-save', watch: ['label'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.id), []), each(row, lots, { update }) { for (const lot of lots.get(row.id) ?? []) update('lot', lot.id, { bay: row.now.label }) } }`,
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), []), each(row, lots, { update }) { for (const { id } of lots.get(row.now.collection) ?? []) if (id !== row.id) update('lot', id, { bay: row.now.bay }) } }`,
      `{ table: 'collection', moment: 'after-save', on: ['delete'], finish({ rows, store, remove }) { const lots = store.children('lot', 'collection', rows.map(r => r.id), []); for (const row of rows) for (const lot of lots.get(row.id) ?? []) remove('lot', lot.id) } }`,
    ],
  },
  look({ hook, say }) {
    if (hook.moment !== 'after-save') return
    walk(hook.definition, (node) => {
      if (!ts.isForOfStatement(node) || onPurpose(hook, node)) return
      const effect = effectOf(node)
      const children = effect && childrenOf(hook, node)
      if (!effect || !children || stringOf(effect.call.arguments[0]) !== children.table) return
      // Of the row itself the id is never empty; of a link it may be, and then the condition would hold for all that have none.
      const { key, link, table, without } = children
      const keyText = key.getText()
      const guard = isOwnId(key, hook.names) ? '' : `if (${keyText} !== null) `
      const but = effect.butItself ? `, id: { not: ${effect.butItself} }` : ''
      const values = effect.call.arguments[2]
      const condition = `{ ${link === keyText ? link : `${link}: ${keyText}`}${but} }`
      const text = `${guard}${calleeName(effect.call)}('${table}', ${condition}${values ? `, ${values.getText()}` : ''})`
      say(node, `the ${table} records are looked up only to be written to: name them by a condition`, {
        title: 'Name them by a condition',
        edits: [...without, { start: node.getStart(), end: node.getEnd(), text }],
      })
    })
  },
}

/** The one effect of a loop on what it goes over, where nothing else of that is looked at. */
function effectOf(loop: ts.ForOfStatement): { call: ts.CallExpression; butItself: string | null } | null {
  const [declaration] = ts.isVariableDeclarationList(loop.initializer) ? loop.initializer.declarations : []
  const name = declaration?.name
  if (!name) return null
  const whole = ts.isIdentifier(name) ? name.text : null
  const only = ts.isObjectBindingPattern(name) && name.elements.length === 1 ? name.elements[0]!.name.getText() : null
  if (whole === null && only !== 'id') return null
  const idText = whole === null ? 'id' : `${whole}.id`
  let statement: ts.Statement = single(loop.statement)
  let butItself: string | null = null
  if (ts.isIfStatement(statement) && !statement.elseStatement) {
    const test = bare(statement.expression)
    if (!ts.isBinaryExpression(test) || test.operatorToken.kind !== ts.SyntaxKind.ExclamationEqualsEqualsToken) return null
    const [left, right] = [test.left.getText(), test.right.getText()]
    if (left !== idText && right !== idText) return null
    butItself = left === idText ? right : left
    statement = single(statement.thenStatement)
  }
  if (!ts.isExpressionStatement(statement)) return null
  const call = statement.expression
  if (!isCall(call, 'update', 'remove') || call.arguments[1]?.getText() !== idText) return null
  const values = call.arguments[2]
  return values && mentions(values, new Set([whole ?? 'id'])) ? null : { call, butItself }
}

const single = (statement: ts.Statement): ts.Statement =>
  ts.isBlock(statement) && statement.statements.length === 1 ? statement.statements[0]! : statement

interface Children {
  table: string
  link: string
  key: ts.Expression
  /** Edits that leave the look-up out. */
  without: { start: number; end: number; text: string }[]
}

/** The look-up whose records a loop goes over: `children.get(key) ?? []`, looked up for nothing else. */
function childrenOf(hook: HookCode, loop: ts.ForOfStatement): Children | null {
  let list = bare(loop.expression)
  if (ts.isBinaryExpression(list) && list.operatorToken.kind === ts.SyntaxKind.QuestionQuestionToken) list = bare(list.left)
  if (ts.isNonNullExpression(list)) list = bare(list.expression)
  if (!isCall(list, 'get') || !ts.isPropertyAccessExpression(list.expression)) return null
  const of = list.expression.expression
  const [key] = list.arguments
  if (!ts.isIdentifier(of) || !key || (!isOwnId(key, hook.names) && ownField(key, hook.names) === null)) return null
  let uses = 0
  walk(hook.definition, (node) => {
    if (ts.isIdentifier(node) && node.text === of.text) uses++
  })
  // Where it is named and here; anything more is another use.
  if (uses !== 2) return null
  const each = partOf(hook, 'each')
  const parameter = parameterOf(each, 1)
  if (parameter && ts.isIdentifier(parameter) && parameter.text === of.text) {
    const load = partOf(hook, 'load')
    const lookup =
      load && (ts.isArrowFunction(load) || ts.isFunctionExpression(load) || ts.isMethodDeclaration(load))
        ? resultOf(load)
        : undefined
    const whole = property(hook.definition, 'load')
    const known = lookup && named(bare(lookup) as ts.Expression)
    if (!known || !whole) return null
    return {
      ...known,
      key,
      without: [withComma(hook.text, whole), { start: parameter.getStart(), end: parameter.getEnd(), text: '_' }],
    }
  }
  let found: Children | null = null
  walk(hook.definition, (node) => {
    if (!ts.isVariableDeclaration(node) || node.name.getText() !== of.text || !node.initializer) return
    const known = named(bare(node.initializer) as ts.Expression)
    const statement = node.parent.parent
    if (!known || !ts.isVariableStatement(statement) || statement.declarationList.declarations.length !== 1) return
    found = { ...known, key, without: [{ start: statement.getStart(), end: statement.getEnd(), text: '' }] }
  })
  return found
}

function named(lookup: ts.Expression): { table: string; link: string } | null {
  if (!isLookup(lookup, 'children')) return null
  const [table, link] = [stringOf(lookup.arguments[0]), stringOf(lookup.arguments[1])]
  return table !== null && link !== null ? { table, link } : null
}

/** A property with the comma and the blanks behind it. */
function withComma(text: string, node: ts.Node): { start: number; end: number; text: string } {
  const behind = /^\s*,\s*/.exec(text.slice(node.getEnd()))
  return { start: node.getStart(), end: node.getEnd() + (behind?.[0].length ?? 0), text: '' }
}
