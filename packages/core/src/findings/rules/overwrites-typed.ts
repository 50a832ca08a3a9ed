import ts from '#typescript'
import type { Rule } from '../types.js'
import { bare, ownField, sideOf } from '../record-names.js'
import { isAssignment, loadedNames, loadedTables, mentions, onPurpose, partOf, rootOf, walk, ways } from '../syntax.js'

export const overwritesTyped: Rule = {
  meta: {
    name: 'overwrites-typed',
    severity: 'warning',
    title: 'A copied value that overwrites what a user may have typed',
    why: 'A value copied from a linked record replaces what was typed, and nobody sees it. Fill only when it is empty (??=), or say that it is meant with a comment: // on purpose.',
  },
  examples: {
    pass: [
      `{ table: 'request', moment: 'before-save', load: ({ rows, store }) => store.rollup('request_line', 'request', rows.map(r => r.id), { count: true }), each(row, lines) { row.now.line_count = lines.get(row.id)?.count ?? 0 } }`,
      `{ table: 'lot', moment: 'before-save', on: ['create'], load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { row.now.species ??= found.get(row.now.collection)?.species ?? null } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) {\n// on purpose: always the collection's\nrow.now.species = found.get(row.now.collection)?.species ?? null } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', watch: ['collection'], load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { const from = found.get(row.now.collection); if (from) Object.assign(row.now, { species: from.species }) } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { row.now.species = found.get(row.now.collection)?.species ?? null } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { const collection = found.get(row.now.collection); row.now.species = collection?.species ?? null } }`,
    ],
  },
  look({ hook, tables, say }) {
    const each = partOf(hook, 'each')
    if (hook.moment !== 'before-save' || !each) return
    const names = loadedNames(hook)
    const guarded = new Set(hook.uses.filter((use) => use.kind === 'write' && use.whenEmpty).map((use) => use.start))
    const from = loadedTables(hook, tables)
    /** A bare copy: one field of the found record, also with ?? or || for none. A formula is a derived value, which is meant. */
    const copies = (value: ts.Expression) =>
      mentions(value, names) &&
      ways(value).some((way) => {
        if (!ts.isPropertyAccessExpression(way) || !mentions(way, names)) return false
        const table = from.get(rootOf(way) ?? '')
        return table ? table.fields.some((field) => field.name === way.name.text) : !isFigure(way)
      })
    const tell = (at: ts.Node, field: string, operator: ts.Node | null) =>
      say(
        at,
        `this overwrites what was typed in ${field}: fill it only when it is empty, or say // on purpose`,
        operator && {
          title: 'Fill only when empty',
          edits: [{ start: operator.getStart(), end: operator.getEnd(), text: '??=' }],
        },
      )
    walk(each, (node) => {
      if (ts.isCallExpression(node) && node.expression.getText() === 'Object.assign') {
        const [target, given] = node.arguments
        const values = given && bare(given)
        if (!target || sideOf(target, hook.names) !== 'now' || !values || !ts.isObjectLiteralExpression(values)) return
        for (const part of values.properties)
          if (
            ts.isPropertyAssignment(part) &&
            copies(part.initializer) &&
            !guarded.has(part.getStart()) &&
            !onPurpose(hook, part)
          )
            tell(part, part.name.getText(), null)
      }
      if (!isAssignment(node)) return
      const field = ownField(node.left, hook.names)
      if (field === null || guarded.has(bare(node.left).getStart()) || !copies(node.right) || onPurpose(hook, node)) return
      tell(node, field, node.operatorToken)
    })
  },
}

/** Counted or summed from many, not copied from one. */
const isFigure = (node: ts.PropertyAccessExpression): boolean =>
  ['length', 'size', 'count'].includes(node.name.text) ||
  (ts.isPropertyAccessExpression(node.expression) && ['sum', 'min', 'max'].includes(node.expression.name.text))
