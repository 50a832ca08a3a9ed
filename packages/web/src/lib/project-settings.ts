import type { Budget, GateRuleName } from '@patient-hook/contract'
import { BUDGETS } from '@patient-hook/contract/limits'

/** The settings in project.json, as a form edits them; keywords that the form does not know stay. */

export interface Settings {
  title: string
  users: { name: string; title: string }[]
  sequences: { name: string; prefix: string; digits: number | null; start: number | null }[]
  batchSize: number | null
  budgets: Record<Budget, number | null>
  /** Release checks that are off. */
  off: GateRuleName[]
  /** Least share of statements that tests must run, in per cent; null: the share must not fall. */
  coverage: number | null
}

type Json = Record<string, unknown>
export const RELEASE_CHECKS = ['model', 'types', 'findings', 'tests', 'coverage', 'bulk'] as const satisfies GateRuleName[]

/** @param text of project.json */
export function settingsOf(text: string): Settings {
  const file = JSON.parse(text) as Json
  const gate = (file['gate'] ?? {}) as Partial<Record<GateRuleName, boolean | number>>
  const budgets = (file['budgets'] ?? {}) as Partial<Record<Budget, number>>
  return {
    title: (file['title'] as string | undefined) ?? '',
    users: ((file['users'] ?? []) as (string | { name: string; title?: string })[]).map((user) =>
      typeof user === 'string' ? { name: user, title: '' } : { name: user.name, title: user.title ?? '' },
    ),
    sequences: Object.entries((file['sequences'] ?? {}) as Record<string, Partial<Settings['sequences'][number]>>).map(
      ([name, { prefix, digits, start }]) => ({ name, prefix: prefix ?? '', digits: digits ?? null, start: start ?? null }),
    ),
    batchSize: (file['batchSize'] as number | undefined) ?? null,
    budgets: Object.fromEntries(BUDGETS.map((each) => [each, budgets[each] ?? null])) as Settings['budgets'],
    off: RELEASE_CHECKS.filter((each) => gate[each] === false),
    coverage: typeof gate.coverage === 'number' ? gate.coverage : null,
  }
}

const orNothing = <T extends object>(value: T): T | undefined => (Object.keys(value).length > 0 ? value : undefined)
const withoutNulls = (value: Json): Json =>
  Object.fromEntries(Object.entries(value).filter(([, each]) => each !== null && each !== ''))

/** The text of project.json with these settings. @param before its text before */
export function withSettings(before: string, settings: Settings): string {
  const file = JSON.parse(before) as Json & { users?: (string | Json)[] }
  const known = (name: string) =>
    file.users?.find((user) => typeof user === 'object' && user['name'] === name) as Json | undefined
  const users = settings.users.map(({ name, title }) => {
    const user = withoutNulls({ ...known(name), name, title })
    return Object.keys(user).length === 1 ? name : user
  })
  const sequences = Object.fromEntries(settings.sequences.map(({ name, ...sequence }) => [name, withoutNulls(sequence)]))
  const gate: Json = { ...(file['gate'] as Json | undefined) }
  for (const each of RELEASE_CHECKS)
    if (settings.off.includes(each)) gate[each] = false
    else if (gate[each] === false || each === 'coverage') delete gate[each]
  if (settings.coverage !== null && !settings.off.includes('coverage')) gate['coverage'] = settings.coverage
  const next: Json = {
    ...file,
    title: settings.title === '' ? undefined : settings.title,
    users: users.length > 0 ? users : undefined,
    sequences: orNothing(sequences),
    batchSize: settings.batchSize ?? undefined,
    budgets: orNothing(withoutNulls(settings.budgets)),
    gate: orNothing(gate),
  }
  return `${JSON.stringify(next, null, 2)}\n`
}
