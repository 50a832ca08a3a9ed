import type { HookCode, Rule } from '../types.js'

const writes = (hook: HookCode) =>
  new Set(hook.uses.filter((use) => use.kind === 'write' && use.of === 'now').map((use) => use.field))

/** Does one run after the other, directly or through others? */
function ordered(a: HookCode, b: HookCode, all: readonly HookCode[]): boolean {
  const reaches = (from: HookCode, to: HookCode, seen: Set<string>): boolean =>
    from.after.includes(to.name) ||
    from.after.some((name) => !seen.has(name) && all.some((each) => each.name === name && reaches(each, to, seen.add(name))))
  return reaches(a, b, new Set()) || reaches(b, a, new Set())
}

export const twoWriters: Rule = {
  meta: {
    name: 'two-writers',
    severity: 'warning',
    title: 'Two hooks of one moment set one field, and nothing says which comes first',
    why: 'Hooks run by name unless after says otherwise: renaming one changes the result. Name the first in after of the second.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', on: ['create'], each(row) { row.now.bay = 'A' } }\n---\n{ table: 'lot', moment: 'before-save', on: ['update'], each(row) { row.now.bay = 'B' } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay = 'A' } }\n---\n{ table: 'lot', moment: 'before-save', after: ['hook-1'], each(row) { row.now.bay = 'B' } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay = 'A' } }\n---\n{ table: 'lot', moment: 'before-save', each(row) { row.now.bay = 'B' } }`,
    ],
  },
  look({ hook, all, say }) {
    if (hook.moment !== 'before-save') return
    const own = writes(hook)
    for (const other of all) {
      if (other.name >= hook.name || other.table.name !== hook.table.name || other.moment !== hook.moment) continue
      if (!hook.on.some((event) => other.on.includes(event)) || ordered(hook, other, all)) continue
      const shared = [...writes(other)].find((field) => own.has(field))
      const at = shared && hook.uses.find((use) => use.kind === 'write' && use.field === shared)
      if (!at) continue
      const moment = hook.definition.properties.find((each) => each.name?.getText() === 'moment')?.getEnd()
      say(
        at,
        `${other.name} sets ${shared} too, at the same moment, and nothing says which comes first`,
        hook.after.length > 0 || moment === undefined
          ? null
          : { title: `Run after ${other.name}`, edits: [{ start: moment, end: moment, text: `, after: ['${other.name}']` }] },
      )
    }
  },
}
