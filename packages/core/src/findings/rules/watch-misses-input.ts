import ts from '#typescript'
import type { Rule } from '../types.js'
import { isCall, onPurpose, walk } from '../syntax.js'
import { initializer } from '../uses.js'

export const watchMissesInput: Rule = {
  meta: {
    name: 'watch-misses-input',
    severity: 'warning',
    title: 'A watch list that misses a field the hook derives from, or holds a field the hook sets',
    why: 'A derived value goes stale when one of its inputs changes without waking the hook. A watched output wakes the hook only to overwrite what was typed.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', watch: ['bay'], each(row) { row.now.bay = row.now.bay?.trim() ?? null } }`,
      `{ table: 'lot', moment: 'before-save', watch: ['gross_mass_g', 'tare_mass_g'], each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }`,
      `{ table: 'lot', moment: 'before-save', on: ['create'], watch: ['gross_mass_g'], each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }`,
    ],
    fail: [
      `{ table: 'site', moment: 'after-save', watch: ['district'], load: ({ rows, store }) => store.children('collection', 'site', rows.map(r => r.id), []), each(row, found, { update }) { for (const each of found.get(row.id) ?? []) update('collection', each.id, { district: row.now.district, keeper_contact: row.now.keeper_contact }) } }`,
      `{ table: 'lot', moment: 'before-save', watch: ['gross_mass_g'], each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }`,
      `{ table: 'lot', moment: 'before-save', watch: ['gross_mass_g', 'net_mass_g'], each(row) { row.now.net_mass_g = row.now.gross_mass_g } }`,
    ],
  },
  look({ hook, say }) {
    if (hook.moment === 'before-commit' || hook.watch.length === 0) return
    const watched = new Set(hook.watch.map((each) => each.text))
    const list = initializer(hook.definition, 'watch')
    const inList = (start: number) => list !== undefined && start >= list.pos && start < list.end
    const read = new Set(
      hook.uses.filter((use) => use.kind === 'read' && use.of === 'now' && !inList(use.start)).map((use) => use.field),
    )
    const written = new Set(hook.uses.filter((use) => use.kind === 'write' && use.of === 'now').map((use) => use.field))
    for (const { text, node } of hook.watch)
      // A hook that brings what was typed into form reads what it sets.
      if (written.has(text) && !read.has(text) && !onPurpose(hook, node))
        say(node, `the hook watches ${text}, which it only sets: what is typed there wakes it to be overwritten`)
    /** Where the values of an update effect stand: what is pushed to other records must follow the record. */
    const pushed: ts.Node[] = []
    walk(hook.definition, (node) => {
      if (isCall(node, 'update') && node.arguments[2]) pushed.push(node.arguments[2])
    })
    const isPushed = (start: number) => pushed.some((values) => start >= values.pos && start < values.end)
    if ((written.size === 0 && pushed.length === 0) || !hook.on.includes('update')) return
    const only = hook.definition.properties.find((each) => each.name?.getText() === 'only')
    const inOnly = (start: number) => only !== undefined && start >= only.getStart() && start < only.getEnd()
    for (const use of hook.uses) {
      if (use.kind !== 'read' || use.of !== 'now' || watched.has(use.field) || written.has(use.field) || inOnly(use.start))
        continue
      if (hook.moment === 'after-save' && !isPushed(use.start)) continue
      if (!hook.table.fields.some((field) => field.name === use.field)) continue
      watched.add(use.field)
      const end = list && ts.isArrayLiteralExpression(list) ? list.elements.at(-1)?.getEnd() : undefined
      say(
        use,
        `${use.field} is read, but its change does not wake the hook: the result would go stale`,
        end === undefined ? null : { title: `Watch ${use.field}`, edits: [{ start: end, end, text: `, '${use.field}'` }] },
      )
    }
  },
}
