import ts from '#typescript'
import { isOwnId } from '../record-names.js'
import type { Rule } from '../types.js'
import { areOwnIds, isCall, isLookup, onPurpose, stringOf, walk } from '../syntax.js'

export const siblingNotItself: Rule = {
  meta: {
    name: 'sibling-not-itself',
    severity: 'warning',
    title: 'A look-up of siblings that finds the record itself, or nothing but itself',
    why: 'Records of the same table include the one that is being saved. Leave it out with other.id !== row.id; "===" finds only the record itself.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'after-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), ['bay']), each(row, lots, { update }) { for (const lot of lots.get(row.now.collection) ?? []) if (lot.id !== row.id) update('lot', lot.id, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', finish({ rows, store, update }) { for (const [id, lots] of store.children('lot', 'collection', rows.map(r => r.now.collection), ['bay'])) update('collection', id, { label: String(lots.length) }) } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'after-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), ['bay']), each(row, lots, { update }) { for (const lot of lots.get(row.now.collection) ?? []) update('lot', lot.id, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), ['bay']), each(row, lots, { update }) { for (const lot of lots.get(row.now.collection) ?? []) if (lot.id === row.id) update('lot', lot.id, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), ['bay']), each(row, lots) { row.now.bay ??= lots.get(row.now.collection)?.at(-1)?.bay ?? null } }`,
    ],
  },
  look({ hook, say }) {
    let lookup: ts.CallExpression | null = null
    let writesOwn =
      hook.moment === 'before-save' &&
      hook.on.includes('update') &&
      hook.uses.some((use) => use.of === 'now' && use.kind === 'write')
    let leavesOut = false
    let same: ts.BinaryExpression | null = null
    walk(hook.definition, (node) => {
      // Children of the record itself are below it, so it is not among them.
      const below = isCall(node, 'children') && areOwnIds(node.arguments[2], hook)
      if (isLookup(node, 'children', 'find') && stringOf(node.arguments[0]) === hook.table.name && !below) lookup ??= node
      if (isCall(node, 'update', 'remove') && stringOf(node.arguments[0]) === hook.table.name) writesOwn = true
      if (ts.isPropertyAssignment(node) && node.name.getText() === 'not') leavesOut = true
      if (!ts.isBinaryExpression(node)) return
      const [left, right] = [isOwnId(node.left, hook.names), isOwnId(node.right, hook.names)]
      if (left === right || !/\bid$/.test((left ? node.right : node.left).getText())) return
      const { kind } = node.operatorToken
      if (kind === ts.SyntaxKind.ExclamationEqualsEqualsToken || kind === ts.SyntaxKind.ExclamationEqualsToken) leavesOut = true
      if (kind === ts.SyntaxKind.EqualsEqualsEqualsToken || kind === ts.SyntaxKind.EqualsEqualsToken) same = node
    })
    if (!lookup || !writesOwn) return
    if (same) {
      const { operatorToken } = same as ts.BinaryExpression
      // `if (other.id === row.id) continue` leaves the record out as well.
      const parent = (same as ts.BinaryExpression).parent
      if (ts.isIfStatement(parent) && /^\{?\s*(continue|return)\b/.test(parent.thenStatement.getText())) return
      if (!leavesOut)
        say(same, 'this finds only the record itself: to leave it out, write !==', {
          title: 'Write !==',
          edits: [{ start: operatorToken.getStart(), end: operatorToken.getEnd(), text: '!==' }],
        })
    } else if (!leavesOut && !onPurpose(hook, lookup))
      say(
        lookup,
        `the ${hook.table.name} records that are found include the one that is saved: leave it out with other.id !== row.id`,
      )
  },
}
