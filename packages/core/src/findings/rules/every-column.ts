import ts from '#typescript'
import type { Rule } from '../types.js'
import { calleeName, fieldsOf, isLookup, onPurpose, stringOf, walk } from '../syntax.js'

export const everyColumn: Rule = {
  meta: {
    name: 'every-column',
    severity: 'warning',
    title: 'A look-up of every column when few are used',
    why: 'Reading only the fields that are used costs less and says what the hook depends on.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { row.now.species ??= found.get(row.now.collection)?.species ?? null } }`,
      `{ table: 'site', moment: 'after-save', load: ({ rows, store }) => store.children('collection', 'site', rows.map(r => r.id), []), each(row, found, { update }) { for (const { id } of found.get(row.id) ?? []) update('collection', id, { district: row.now.district }) } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection)), each(row, found) { row.now.species ??= found.get(row.now.collection)?.species ?? null } }`,
    ],
  },
  look({ hook, tables, say }) {
    const named = new Set<string>()
    walk(hook.definition, (node) => {
      if (ts.isPropertyAccessExpression(node)) named.add(node.name.text)
      if (ts.isBindingElement(node)) named.add((node.propertyName ?? node.name).getText())
    })
    walk(hook.definition, (node) => {
      if (!isLookup(node, 'byId', 'children', 'find') || fieldsOf(node) !== null) return
      const table = tables.get(stringOf(node.arguments[0])!)
      if (!table || table.fields.length < 4 || onPurpose(hook, node)) return
      const used = table.fields.map((field) => field.name).filter((name) => named.has(name))
      if (used.length * 2 > table.fields.length) return
      const list = `[${used.map((name) => `'${name}'`).join(', ')}]`
      const at = node.arguments.at(-1)!.getEnd()
      const complete = { byId: 2, children: 3, find: -1 }[calleeName(node) as 'byId'] === node.arguments.length
      say(
        node,
        `this reads all ${table.fields.length} fields of ${table.name}, of which ${used.length === 0 ? 'none is' : used.join(', ') + (used.length === 1 ? ' is' : ' are')} used`,
        complete ? { title: `Read only ${list}`, edits: [{ start: at, end: at, text: `, ${list}` }] } : null,
      )
    })
  },
}
