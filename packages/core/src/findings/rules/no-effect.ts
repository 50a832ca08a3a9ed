import ts from '#typescript'
import type { Rule } from '../types.js'
import { bare, ownField } from '../record-names.js'
import { isAssignment, isCall, walk } from '../syntax.js'

export const noEffect: Rule = {
  meta: {
    name: 'no-effect',
    severity: 'warning',
    title: 'A value set to what is there',
    why: 'It does nothing, so it is probably not what was meant: another field or another record, perhaps.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', on: ['update'], each(row) { row.now.bay = row.was.bay } }`,
      `{ table: 'collection', moment: 'after-save', watch: ['status_note'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.id), ['bay']), each(row, lots, { update }) { for (const lot of lots.get(row.id) ?? []) update('lot', lot.id, { collection_notes: row.now.status_note }) } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay = row.now.bay } }`,
      `{ table: 'collection', moment: 'after-save', watch: ['status_note'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.id), ['collection_notes']), each(row, lots, { update }) { for (const lot of lots.get(row.id) ?? []) update('lot', lot.id, { collection_notes: lot.collection_notes }) } }`,
    ],
  },
  look({ hook, say }) {
    walk(hook.definition, (node) => {
      if (
        isAssignment(node) &&
        ownField(node.left, hook.names) !== null &&
        ownField(node.left, hook.names) === ownField(node.right, hook.names)
      )
        say(node, 'this sets the field to the value it has')
      if (!isCall(node, 'update')) return
      const [, id, given] = node.arguments
      const values = given && bare(given)
      if (id && values && ts.isObjectLiteralExpression(values) && values.properties.length > 0) {
        const of = recordOf(id)
        if (of !== null && values.properties.every((each) => isSame(each, of)))
          say(node, 'the effect sets what is there already: no changes would be saved')
      }
    })
  },
}

/** The record whose id this is, as it is written: `lot` of `lot.id`, `row.now` of `row.id`; a pattern for a bare `id`. */
function recordOf(id: ts.Expression): string | ts.ObjectBindingPattern | null {
  const node = bare(id)
  if (ts.isPropertyAccessExpression(node) && node.name.text === 'id') return node.expression.getText()
  if (!ts.isIdentifier(node)) return null
  let pattern: ts.ObjectBindingPattern | null = null
  walk(node.getSourceFile(), (each) => {
    if (
      ts.isObjectBindingPattern(each) &&
      each.pos < node.pos &&
      each.elements.some(
        (element) => element.name.getText() === node.text && (element.propertyName?.getText() ?? node.text) === 'id',
      )
    )
      pattern = each
  })
  return pattern
}

function isSame(property: ts.ObjectLiteralElementLike, record: string | ts.ObjectBindingPattern): boolean {
  const name = property.name?.getText()
  const value = ts.isPropertyAssignment(property) ? bare(property.initializer) : null
  if (typeof record === 'string')
    return (
      value !== null &&
      ts.isPropertyAccessExpression(value) &&
      value.name.text === name &&
      [record, `${record}.now`].includes(value.expression.getText())
    )
  const local = ts.isShorthandPropertyAssignment(property) ? name : value && ts.isIdentifier(value) ? value.text : null
  return (
    local !== null &&
    record.elements.some((each) => each.name.getText() === local && (each.propertyName?.getText() ?? local) === name)
  )
}
