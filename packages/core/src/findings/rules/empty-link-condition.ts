import ts from '#typescript'
import { mayBeNull, NO_FACTS, startFacts, walkKnowing, type Facts } from '../facts.js'
import { bare, isFunction, ownField } from '../record-names.js'
import { isCall, namedValues, onPurpose, partOf } from '../syntax.js'
import type { Rule } from '../types.js'
import { initializer } from '../uses.js'

export const emptyLinkCondition: Rule = {
  meta: {
    name: 'empty-link-condition',
    severity: 'warning',
    title: 'A condition by a link that may be empty',
    why: 'A condition with null holds for every record that has no link either: one lot without a collection would change all lots without one. Ask first whether there is a link.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], each(row, _, { update }) { if (row.now.collection !== null) update('lot', { collection: row.now.collection, id: { not: row.id } }, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], only: row => row.now.species !== null, each(row, _, { update }) { update('lot', { species: row.now.species, id: { not: row.id } }, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], each(row, _, { update }) { if (row.now.species === null) return; update('lot', { species: { eq: row.now.species }, id: { not: row.id } }, { bay: row.now.bay }) } }`,
      `{ table: 'collection', moment: 'after-save', watch: ['label'], each(row, _, { update }) { update('lot', { collection: row.id }, { bay: row.now.label }) } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], each(row, _, { update }) { update('lot', { species: row.now.species, id: { not: row.id } }, { bay: row.now.bay }) } }`,
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], each(row, _, { remove }) { if (row.now.bay !== null) remove('lot', { species: row.now.species, id: { not: row.id } }) } }`,
      `{ table: 'lot', moment: 'after-save', watch: ['bay'], each(row, _, { update }) { update('lot', { species: { eq: row.now.species }, id: { not: row.id } }, { bay: row.now.bay }) } }`,
    ],
  },
  look({ hook, tables, say }) {
    if (hook.moment !== 'after-save') return
    const look = (call: ts.CallExpression, facts: Facts): void => {
      if (!isCall(call, 'update', 'remove') || onPurpose(hook, call)) return
      for (const { table, conditions, values } of namedValues(call, tables)) {
        if (!conditions) continue
        for (const { field, value } of values) {
          const given = bare(value)
          const asked = ts.isObjectLiteralExpression(given) ? initializer(given, 'eq') : given
          const own = asked && field?.link ? ownField(asked, hook.names) : null
          const is = own === null ? undefined : hook.table.fields.find(({ name }) => name === own)
          if (!asked || !is || is.required || !mayBeNull(asked, facts, hook.names)) continue
          const statement = call.parent
          const at = statement.getStart()
          say(
            value,
            `${asked.getText()} may be null: the condition then holds for every ${table.name} without a ${field!.name}`,
            ts.isExpressionStatement(statement) && !hasElse(statement.parent)
              ? { title: 'Ask for it first', edits: [{ start: at, end: at, text: `if (${asked.getText()} !== null) ` }] }
              : null,
          )
        }
      }
    }
    for (const part of ['each', 'finish']) {
      const fn = partOf(hook, part)
      if (!fn || !isFunction(fn) || !fn.body) continue
      walkKnowing(fn.body, part === 'each' ? startFacts(hook, fn) : NO_FACTS, hook.names, { call: look })
    }
  },
}

/** An if within it would take the else for its own. */
const hasElse = (node: ts.Node): boolean => ts.isIfStatement(node) && node.elseStatement !== undefined
