import ts from '#typescript'
import { isOwnId } from '../record-names.js'
import type { Rule } from '../types.js'
import { isCall, onPurpose, stringOf, walk } from '../syntax.js'

export const afterSaveOwnRecord: Rule = {
  meta: {
    name: 'after-save-own-record',
    severity: 'error',
    title: 'Writing to the saved record in after-save',
    why: 'In after-save the record has been written: assigning to row.now is an error, and an update of the record itself is a second save that wakes its hooks again. Set the value in a before-save hook.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay = 'A' } }`,
      `{ table: 'lot', moment: 'after-save', each(row, _, { update }) { if (row.now.collection) update('collection', row.now.collection, { label: 'x' }) } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'after-save', each(row) { row.now.bay = 'A' } }`,
      `{ table: 'lot', moment: 'after-save', each(row, _, { update }) { update('lot', row.id, { bay: 'A' }) } }`,
    ],
  },
  look({ hook, say }) {
    if (hook.moment === 'before-save') return
    const toBefore = () => {
      let edit: { start: number; end: number; text: string } | null = null
      walk(hook.definition, (node) => {
        if (ts.isPropertyAssignment(node) && node.name.getText() === 'moment')
          edit = { start: node.initializer.getStart(), end: node.initializer.getEnd(), text: `'before-save'` }
      })
      return edit ? { title: 'Run at before-save', edits: [edit] } : null
    }
    for (const use of hook.uses)
      if (use.kind === 'write' && use.of === 'now')
        say(
          use,
          `row.now.${use.field} cannot be set at ${hook.moment}: the record has been written`,
          hook.moment === 'after-save' ? toBefore() : null,
        )
    if (hook.moment !== 'after-save') return
    walk(hook.definition, (node) => {
      if (!isCall(node, 'update') || stringOf(node.arguments[0]) !== hook.table.name) return
      const [, id] = node.arguments
      if (id && isOwnId(id, hook.names) && !onPurpose(hook, node))
        say(node, `this saves the ${hook.table.name} record again, which wakes its hooks again: set the value at before-save`)
    })
  },
}
