import ts from '#typescript'
import type { Rule } from '../types.js'
import { bare, emptyWhen, isFunction, ownField } from '../record-names.js'
import { loadedNames, mentions, isAssignment, onPurpose, partOf, walk } from '../syntax.js'
import { property, resultOf } from '../uses.js'

export const guardFreezesCopy: Rule = {
  meta: {
    name: 'guard-freezes-copy',
    severity: 'warning',
    title: 'A guard "target is empty" on a copied field, which freezes the copy',
    why: 'The value comes from a link, but after the first copy the target is no longer empty: a changed link never brings its value. Run it on create only, drop the guard, or say that it is meant with a comment: // on purpose.',
  },
  examples: {
    pass: [
      `{ table: 'request_line', moment: 'before-save', watch: ['lot'], only: row => row.now.packets === null, load: ({ rows, store }) => store.byId('species', rows.map(r => r.id), ['default_pack']), each(row, found) { row.now.packets = found.get(row.now.lot)?.default_pack ?? null } }`,
      `{ table: 'lot', moment: 'before-save', on: ['create'], watch: ['collection'], only: row => row.now.species === null, load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { row.now.species = found.get(row.now.collection)?.species ?? null } }`,
      `{ table: 'lot', moment: 'before-save', watch: ['collection'],\n// on purpose: what was typed stays\nonly: row => row.now.species === null, load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { row.now.species = found.get(row.now.collection)?.species ?? null } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', only: row => !row.now.species, load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { row.now.species = found.get(row.now.collection)?.species ?? null } }`,
      `{ table: 'lot', moment: 'before-save', watch: ['collection'], only: row => row.now.species === null, load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { row.now.species = found.get(row.now.collection)?.species ?? null } }`,
    ],
  },
  look({ hook, say }) {
    const only = property(hook.definition, 'only')
    const each = partOf(hook, 'each')
    if (hook.moment !== 'before-save' || !hook.on.includes('update') || !only || !each || onPurpose(hook, only)) return
    const links = new Set(hook.table.fields.filter((field) => field.link).map((field) => field.name))
    // A hook that watches something else is not about the link.
    if (hook.watch.length > 0 && !hook.watch.some(({ text }) => links.has(text))) return
    const load = partOf(hook, 'load')
    const linked = hook.uses.filter(
      (use) => load && use.of === 'now' && use.start >= load.pos && use.end <= load.end && links.has(use.field),
    )
    if (hook.watch.length === 0 && linked.length === 0) return
    const causes = hook.watch.length > 0 ? hook.watch.map((each) => each.text) : [...new Set(linked.map((use) => use.field))]
    const guard = ts.isPropertyAssignment(only) ? bare(only.initializer) : only
    const tested = isFunction(guard) ? emptyWhen(resultOf(guard), hook.names) : []
    const names = loadedNames(hook)
    walk(each, (node) => {
      if (!isAssignment(node) || !mentions(node.right, names)) return
      const field = ownField(node.left, hook.names)
      if (field !== null && tested.includes(field) && !isDefault(node.right)) {
        const table = property(hook.definition, 'moment')
        const on = property(hook.definition, 'on')
        const at = table?.getEnd()
        const fix =
          on && ts.isPropertyAssignment(on)
            ? { start: on.initializer.getStart(), end: on.initializer.getEnd(), text: `['create']` }
            : at === undefined
              ? null
              : { start: at, end: at, text: `, on: ['create']` }
        say(
          only,
          `${field} is copied only while it is empty: when ${causes.join(' or ')} changes later, the old copy stays`,
          fix && { title: 'Run on create only', edits: [fix] },
        )
      }
    })
  },
}

/** A default is meant for empty fields only: what was typed, or filled once, stays. Its name says that it is one. */
function isDefault(expression: ts.Expression): boolean {
  const node = bare(expression)
  if (ts.isBinaryExpression(node)) return isDefault(node.left)
  if (ts.isConditionalExpression(node)) return isDefault(node.whenTrue) || isDefault(node.whenFalse)
  return ts.isPropertyAccessExpression(node) && /^(default|standard|usual|initial)/i.test(node.name.text)
}
