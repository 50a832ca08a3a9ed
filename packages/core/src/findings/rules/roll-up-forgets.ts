import ts from '#typescript'
import type { HookCode, Rule } from '../types.js'
import { isCall, isLookup, onPurpose, stringOf, walk } from '../syntax.js'

export const rollUpForgets: Rule = {
  meta: {
    name: 'roll-up-forgets',
    severity: 'warning',
    title: 'A roll-up that misses records which were removed, or which went to another parent',
    why: 'A count or sum on the parent must follow its children when one is removed (on: delete), and when one moves: then the parent it left (row.was) has to be counted again too, not only the one it has now.',
  },
  examples: {
    pass: [
      `{ table: 'request_line', moment: 'after-save', on: ['create', 'update', 'delete'], finish({ rows, store, update }) { const ids = rows.flatMap(r => [r.now?.request, r.was?.request]); for (const [id, { count }] of store.rollup('request_line', 'request', ids, { count: true })) update('request', id, { line_count: count }) } }`,
      `{ table: 'lot', moment: 'after-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), []), each(row, lots, { update }) { for (const lot of lots.get(row.now.collection) ?? []) if (lot.id !== row.id) update('lot', lot.id, { bay: row.now.bay }) } }`,
    ],
    fail: [
      `{ table: 'request_line', moment: 'after-save', finish({ rows, store, update }) { const ids = rows.flatMap(r => [r.now.request, r.was?.request]); for (const [id, { count }] of store.rollup('request_line', 'request', ids, { count: true })) update('request', id, { line_count: count }) } }`,
      `{ table: 'request_line', moment: 'after-save', on: ['create', 'update', 'delete'], finish({ rows, store, update }) { const ids = rows.map(r => r.now?.request); for (const [id, { count }] of store.rollup('request_line', 'request', ids, { count: true })) update('request', id, { line_count: count }) } }`,
      `{ table: 'request_line', moment: 'after-save', on: ['create', 'update', 'delete'], watch: ['seeds'], finish({ rows, store, update }) { const ids = rows.flatMap(r => [r.now?.request, r.was?.request]); for (const [id, { sum }] of store.rollup('request_line', 'request', ids, { sum: ['seeds'] })) update('request', id, { seeds_total: sum.seeds }) } }`,
    ],
  },
  look({ hook, tables, say }) {
    if (hook.moment !== 'after-save') return
    const updated = new Set<string>()
    walk(hook.definition, (node) => {
      const table = isCall(node, 'update') ? stringOf(node.arguments[0]) : null
      if (table !== null) updated.add(table)
    })
    walk(hook.definition, (node) => {
      if (!isLookup(node, 'rollup', 'children') || stringOf(node.arguments[0]) !== hook.table.name) return
      const link = stringOf(node.arguments[1])
      const parent = hook.table.fields.find((field) => field.name === link)?.link?.table
      if (!link || !parent || !updated.has(parent) || !tables.has(parent) || onPurpose(hook, node)) return
      const missed = whatIsMissed(hook, link)
      if (missed) say(node, missed.replaceAll('{parent}', parent).replaceAll('{child}', hook.table.name))
    })
  },
}

function whatIsMissed(hook: HookCode, link: string): string | null {
  if (!hook.on.includes('delete')) return `when a {child} is removed, its {parent} keeps the old figure: run on delete too`
  if (!hook.on.includes('update')) return null
  if (hook.watch.length > 0 && !hook.watch.some(({ text }) => text === link))
    return `a {child} that goes to another {parent} does not wake the hook: watch ${link} too`
  const readsOld =
    hook.uses.some((use) => use.of === 'was' && use.field === link && use.kind === 'read') || takesBothSides(hook, link)
  return readsOld ? null : `the {parent} that a {child} left keeps the old figure: count row.was.${link} again too`
}

/** `[row.now, row.was].map((each) => each?.link)`: the old side is read under another name. */
function takesBothSides(hook: HookCode, link: string): boolean {
  let was = false
  let asked = false
  walk(hook.definition, (node) => {
    if (!ts.isPropertyAccessExpression(node)) return
    if (node.name.text === 'was') was = true
    if (node.name.text === link) asked = true
  })
  return was && asked
}
