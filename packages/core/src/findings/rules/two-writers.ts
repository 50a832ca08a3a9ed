import { meet, runsAfter, withPart } from '../order.js'
import type { HookCode, Rule } from '../types.js'

const writes = (hook: HookCode) =>
  new Set(hook.uses.filter((use) => use.kind === 'write' && use.of === 'now').map((use) => use.field))

const ordered = (a: HookCode, b: HookCode, all: readonly HookCode[]): boolean => runsAfter(a, b, all) || runsAfter(b, a, all)

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
      if (other.name >= hook.name || !meet(hook, other) || ordered(hook, other, all)) continue
      const shared = [...writes(other)].find((field) => own.has(field))
      const at = shared && hook.uses.find((use) => use.kind === 'write' && use.field === shared)
      if (!at) continue
      const edits = hook.after.length > 0 ? null : withPart(hook, `after: ['${other.name}']`)
      say(
        at,
        `${other.name} sets ${shared} too, at the same moment, and nothing says which comes first`,
        edits && { title: `Run after ${other.name}`, edits },
      )
    }
  },
}
