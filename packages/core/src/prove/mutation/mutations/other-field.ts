import { fieldOf, nodesOf, type Mutation } from '../mutation.js'

export const otherField: Mutation = {
  kind: 'other-field',
  says: 'another field of the same type is read or written',
  examples: [{ code: `{ table: 'lot', moment: 'before-save', each(row) { row.now.gross = 1 } }`, changes: ['gross → net'] }],
  *changes(hook) {
    const { fields } = hook.table
    for (const node of nodesOf(hook.literal)) {
      const read = fieldOf(node)
      const field = read && fields.find((each) => each.name === read.field)
      if (!read || !field) continue
      const at = fields.indexOf(field)
      // The next one of its kind: with the others it would only be more of the same.
      const other = [...fields.slice(at + 1), ...fields.slice(0, at)].find(
        (each) => each.type === field.type && each.link?.table === field.link?.table && !each.enum === !field.enum,
      )
      if (other) yield { start: read.node.name.getStart(hook.source), end: read.node.name.getEnd(), text: other.name }
    }
  },
}
