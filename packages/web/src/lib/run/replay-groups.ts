import type { Difference, ReplayedSave } from '@patient-hook/contract'

/** What came out differently in saves that were run again, by field and hook. */

export interface ReplayGroup {
  /** The field, or what came or went: `lot.net_mass_g`, `slip records`, `messages to desk`. */
  what: string
  /** The hook that would set it, or had set it; null: nobody's. */
  hook: string | null
  members: { save: ReplayedSave; difference: Difference }[]
}

/** The most frequent first. */
export function groupsOf(results: readonly ReplayedSave[]): ReplayGroup[] {
  const groups = new Map<string, ReplayGroup>()
  for (const save of results)
    for (const difference of save.differences) {
      const [what, hook] = [whatOf(difference), hookOf(difference)]
      const key = `${what}\n${hook ?? ''}`
      const group = groups.get(key) ?? { what, hook, members: [] }
      group.members.push({ save, difference })
      groups.set(key, group)
    }
  return [...groups.values()].sort((a, b) => b.members.length - a.members.length || a.what.localeCompare(b.what))
}

function whatOf(difference: Difference): string {
  if (difference.kind === 'value') return `${difference.table}.${difference.field}`
  return difference.kind === 'record' ? `${difference.table} records` : `messages to ${difference.channel}`
}

const BY_NO_HOOK = new Set(['typed', 'default', 'link'])

/** The hook whose doing a difference is; null: nobody's. */
export function hookOf(difference: Difference): string | null {
  if (difference.kind === 'message') return difference.hook
  const names = difference.kind === 'value' ? [difference.byNow, difference.byThen] : difference.by
  return names.find((name) => name !== null && !BY_NO_HOOK.has(name)) ?? null
}
