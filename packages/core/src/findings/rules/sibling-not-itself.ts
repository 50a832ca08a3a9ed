import ts from '#typescript'
import { bare, isOwnId } from '../record-names.js'
import type { Rule } from '../types.js'
import { initializer } from '../uses.js'
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
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], each(row, _, { update }) { if (row.now.collection !== null) update('lot', { collection: row.now.collection, id: { not: row.id } }, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), ['bay']), each(row, lots, { update }) { for (const lot of lots.get(row.now.collection) ?? []) if (lot.id !== row.id) update('lot', lot.id, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', finish({ rows, store, update }) { for (const [id, lots] of store.children('lot', 'collection', rows.map(r => r.now.collection), ['bay'])) update('collection', id, { label: String(lots.length) }) } }`,
      `{ table: 'lot', moment: 'after-save', finish({ rows, update }) { const last = new Map(); for (const row of rows) last.set(row.now.collection, row); for (const [collection, row] of last) update('lot', { collection, id: { not: row.id } }, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), ['bay']), each(row, lots, { update }) { for (const lot of lots.get(row.now.collection) ?? []) if (lot.id !== row.id) update('lot', { id: lot.id, bay: row.now.bay }, { bay: null }) } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], each(row, _, { update }) { if (row.now.collection !== null) update('lot', { collection: row.now.collection }, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), ['bay']), each(row, lots, { update }) { for (const lot of lots.get(row.now.collection) ?? []) update('lot', lot.id, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), ['bay']), each(row, lots, { update }) { for (const lot of lots.get(row.now.collection) ?? []) if (lot.id === row.id) update('lot', lot.id, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', finish({ rows, update }) { for (const row of rows) update('lot', { collection: row.now.collection, id: row.id }, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', finish({ rows, update }) { const last = new Map(); for (const row of rows) last.set(row.now.collection, row); for (const [collection, row] of last) update('lot', { collection, id: row.id }, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', finish({ rows, update }) { const last = new Map(rows.map(row => [row.now.collection, row])); for (const { id, now } of last.values()) update('lot', { collection: now.collection, id }, { bay: now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', finish({ rows, remove }) { Map.groupBy(rows, row => row.now.collection).forEach((lots, collection) => { const own = lots.at(-1); remove('lot', { collection, id: own.id }) }) } }`,
      `{ table: 'lot', moment: 'after-save', load: ({ rows, store }) => store.find('lot', { collection: { in: rows.map(r => r.now.collection) }, id: { in: rows.map(r => r.id) } }, { fields: ['bay'] }), each(row, lots, { update }) { update('collection', row.now.collection, { label: lots[0].bay }) } }`,
      `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), ['bay']), each(row, lots) { row.now.bay ??= lots.get(row.now.collection)?.at(-1)?.bay ?? null } }`,
    ],
  },
  look({ hook, say }) {
    const byCondition: { call: ts.CallExpression; where: ts.ObjectLiteralExpression }[] = []
    let lookup: ts.CallExpression | null = null
    let writesOwn =
      hook.moment === 'before-save' &&
      hook.on.includes('update') &&
      hook.uses.some((use) => use.of === 'now' && use.kind === 'write')
    let leavesOut = false
    let same: ts.BinaryExpression | null = null
    walk(hook.definition, (node) => {
      if (ts.isCallExpression(node)) onlyItself(node)
      // Children of the record itself are below it, so it is not among them.
      const below = isCall(node, 'children') && areOwnIds(node.arguments[2], hook)
      if (isLookup(node, 'children', 'find') && stringOf(node.arguments[0]) === hook.table.name && !below) lookup ??= node
      if (isCall(node, 'update', 'remove') && stringOf(node.arguments[0]) === hook.table.name) {
        writesOwn = true
        const where = node.arguments[1]
        if (where && ts.isObjectLiteralExpression(where)) byCondition.push({ call: node, where })
      }
      if (ts.isPropertyAssignment(node) && node.name.getText() === 'not') leavesOut = true
      if (!ts.isBinaryExpression(node)) return
      const [left, right] = [isOwnId(node.left, hook.names), isOwnId(node.right, hook.names)]
      if (left === right || !/\bid$/.test((left ? node.right : node.left).getText())) return
      const { kind } = node.operatorToken
      if (kind === ts.SyntaxKind.ExclamationEqualsEqualsToken || kind === ts.SyntaxKind.ExclamationEqualsToken) leavesOut = true
      if (kind === ts.SyntaxKind.EqualsEqualsEqualsToken || kind === ts.SyntaxKind.EqualsEqualsToken) same = node
    })
    /** A condition among others that names the very record. */
    function onlyItself(call: ts.CallExpression): void {
      if (!isCall(call, 'update', 'remove') && !isLookup(call, 'find')) return
      const where = call.arguments[1]
      if (stringOf(call.arguments[0]) !== hook.table.name || !where || !ts.isObjectLiteralExpression(where)) return
      const part = where.properties.find((each) => each.name?.getText() === 'id')
      if (!part || where.properties.length < 2 || onPurpose(hook, call)) return
      const value = ts.isPropertyAssignment(part)
        ? bare(part.initializer)
        : ts.isShorthandPropertyAssignment(part)
          ? part.name
          : null
      if (!value || !namesItself(value)) return
      say(
        part,
        `this holds for the ${hook.table.name} record that is saved, and for no other: to leave it out, write { not: … }`,
        {
          title: 'Leave the record out',
          edits: [{ start: part.getStart(), end: part.getEnd(), text: `id: { not: ${unlisted(value).getText()} }` }],
        },
      )
    }
    function namesItself(value: ts.Node): boolean {
      const among = unlisted(value)
      return among === value ? isOwnId(value, hook.names) : areOwnIds(among, hook)
    }
    for (const { call, where } of byCondition) {
      const names = where.properties.map((each) => each.name?.getText() ?? '')
      const below = where.properties.some((each) => ts.isPropertyAssignment(each) && isOwnId(each.initializer, hook.names))
      const row = [...hook.names.rows][0]
      if (names.includes('id') || below || onPurpose(hook, call)) continue
      say(
        call,
        `the condition holds for the ${hook.table.name} record that is saved as well: leave it out with id: { not: row.id }`,
        row
          ? {
              title: 'Leave the record out',
              edits: [{ start: where.getEnd() - 1, end: where.getEnd() - 1, text: `, id: { not: ${row}.id } ` }],
            }
          : null,
      )
    }
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

/** The list of `{ in: list }`; else the value itself. */
function unlisted(value: ts.Node): ts.Node {
  if (!ts.isObjectLiteralExpression(value)) return value
  return initializer(value, 'in') ?? value
}
