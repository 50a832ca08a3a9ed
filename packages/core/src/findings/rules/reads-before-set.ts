import { meet, runsAfter, withPart } from '../order.js'
import type { HookCode, Rule } from '../types.js'
import { onPurpose } from '../syntax.js'
import { initializer } from '../uses.js'

const fieldsOf = (hook: HookCode, kind: 'read' | 'write'): Set<string> =>
  new Set(hook.uses.filter((use) => use.kind === kind && use.of === 'now').map((use) => use.field))

export const readsBeforeSet: Rule = {
  meta: {
    name: 'reads-before-set',
    severity: 'warning',
    title: 'A hook that reads what a later hook of the same moment sets',
    why: 'Before-save hooks see what earlier ones set, and run by name unless after says otherwise. A hook that comes first reads the old value. Name the one that sets it in after.',
  },
  examples: {
    pass: [
      `{ table: 'lot', moment: 'before-save', after: ['hook-2'], each(row) { row.now.alarm = (row.now.net_mass_g ?? 0) > 5 ? 'act' : 'none' } }\n---\n{ table: 'lot', moment: 'before-save', each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }\n---\n{ table: 'lot', moment: 'before-save', each(row) { row.now.alarm = (row.now.net_mass_g ?? 0) > 5 ? 'act' : 'none' } }`,
      `{ table: 'lot', moment: 'before-save', on: ['create'], each(row) { row.now.alarm = (row.now.net_mass_g ?? 0) > 5 ? 'act' : 'none' } }\n---\n{ table: 'lot', moment: 'before-save', on: ['update'], each(row) { row.now.net_mass_g = row.now.gross_mass_g } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay ??= row.now.status } }\n---\n{ table: 'lot', moment: 'before-save', after: ['hook-1'], each(row) { if (row.now.bay === 'Q1') row.now.status = 'quarantine' } }`,
    ],
    fail: [
      `{ table: 'lot', moment: 'before-save', each(row) { row.now.alarm = (row.now.net_mass_g ?? 0) > 5 ? 'act' : 'none' } }\n---\n{ table: 'lot', moment: 'before-save', each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }`,
      `{ table: 'lot', moment: 'before-save', only: (row) => row.now.status === 'quarantine', each(row) { row.now.bay ??= 'Q1' } }\n---\n{ table: 'lot', moment: 'before-save', each(row) { row.now.status ??= 'stored' } }`,
      `{ table: 'lot', moment: 'before-save', watch: ['net_mass_g'], each(row) { row.now.alarm = 'act' } }\n---\n{ table: 'lot', moment: 'before-save', each(row) { row.now.net_mass_g = row.now.gross_mass_g } }`,
    ],
  },
  look({ hook, all, say }) {
    if (hook.moment !== 'before-save') return
    const [reads, sets] = [fieldsOf(hook, 'read'), fieldsOf(hook, 'write')]
    for (const later of all) {
      if (!meet(hook, later) || runsAfter(hook, later, all)) continue
      const toldToWait = runsAfter(later, hook, all)
      if (!toldToWait && later.name < hook.name) continue
      const [laterReads, laterSets] = [fieldsOf(later, 'read'), fieldsOf(later, 'write')]
      // Where the later one reads what this one sets, it has to come later.
      if ([...sets].some((field) => laterReads.has(field))) continue
      const field = [...reads].find((each) => laterSets.has(each) && !sets.has(each))
      const use = hook.uses.find((each) => each.kind === 'read' && each.of === 'now' && each.field === field)
      if (field === undefined || !use || isMeant(hook, use.start)) continue
      const edits = toldToWait || initializer(hook.definition, 'after') ? null : withPart(hook, `after: ['${later.name}']`)
      say(
        use,
        `${field} is read here, but ${later.name} sets it later: this hook sees the value from before`,
        edits && { title: `Run after ${later.name}`, edits },
      )
    }
  },
}

function isMeant(hook: HookCode, start: number): boolean {
  return onPurpose(hook, { getStart: () => start } as never)
}
