import { BULK_PROPERTIES, type BulkPropertyName, type BulkVerdict, type HookInfo } from '@patient-hook/contract'

/** The evidence of each hook, and of each table's whole save path, out of the verdicts of a proof. */

/** Short enough for the head of a column. */
export const HEADS: Record<BulkPropertyName, string> = {
  'batch-equals-singles': 'singles',
  'order-free': 'order',
  'batch-size-free': 'size',
  'saving-again-changes-nothing': 'again',
  'bad-row-alone': 'bad row',
  'empty-and-repeated-links': 'links',
  'constant-queries': 'queries',
  'linear-growth': 'growth',
}

export interface ProofLine {
  /** In addresses; a table's begins with `table:`. */
  key: string
  hook: string | null
  table: string
  moment: string
  verdicts: Partial<Record<BulkPropertyName, BulkVerdict>>
}

export const keyOf = ({ hook, table }: Pick<BulkVerdict, 'hook' | 'table'>): string => hook ?? `table:${table}`

/** Hooks in save-path order by table, each table's own line after its hooks. */
export function proofLines(hooks: readonly HookInfo[], verdicts: readonly BulkVerdict[]): ProofLine[] {
  const live = hooks.filter((hook) => hook.state.state !== 'off')
  const tables = [...new Set(live.map((hook) => hook.table))].sort()
  const of = (key: string) =>
    Object.fromEntries(verdicts.filter((verdict) => keyOf(verdict) === key).map((verdict) => [verdict.property, verdict]))
  return tables.flatMap((table) => [
    ...live
      .filter((hook) => hook.table === table)
      .map(({ name, moment }) => ({ key: name, hook: name, table, moment, verdicts: of(name) })),
    { key: `table:${table}`, hook: null, table, moment: 'whole save path', verdicts: of(`table:${table}`) },
  ])
}

export type Mark = 'holds' | 'accepted' | 'broken' | 'none'
export const markOf = (verdict: BulkVerdict | undefined): Mark =>
  !verdict ? 'none' : verdict.holds ? 'holds' : verdict.accepted ? 'accepted' : 'broken'
export const SIGNS: Record<Mark, string> = { holds: '✓', accepted: '~', broken: '×', none: '·' }
export const MARK_WORDS: Record<Mark, string> = {
  holds: 'holds',
  accepted: 'does not hold, and is accepted',
  broken: 'does not hold',
  none: 'not tried yet',
}

export const bulkWord = (lines: readonly ProofLine[]): string => {
  const all = lines.flatMap((line) => BULK_PROPERTIES.map((property) => markOf(line.verdicts[property])))
  const count = (mark: Mark) => all.filter((each) => each === mark).length
  const parts = [`${count('holds')} hold`, `${count('accepted')} accepted`, `${count('broken')} do not hold`]
  return count('none') > 0 ? [...parts, `${count('none')} not tried yet`].join(', ') : parts.join(', ')
}
