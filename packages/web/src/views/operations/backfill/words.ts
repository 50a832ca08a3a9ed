import type { BackfillFigures, BackfillInfo } from '@patient-hook/contract'

/** Backfills in words. */

export function titleOf({ wish, undoes, table }: BackfillInfo): string {
  if (undoes !== null) return `undoes ${undoes}`
  if (wish?.rows) return `${table}: rows of ${wish.rows.file}`
  if (wish?.hooks) return `${table}: ${wish.hooks.join(', ')}`
  if (wish?.number) return `${table}: numbers in ${wish.number.field}`
  return `${table}: sets ${Object.keys(wish?.set ?? {}).join(', ')}`
}

const counts = (of: Record<string, number>): string =>
  Object.entries(of)
    .map(([name, count]) => `${name} ${count}`)
    .join(', ')

/** Lines of a table: what, and how many. */
export function figureLines(figures: BackfillFigures): { what: string; count: string }[] {
  const { changed, created, fields, left, passed, effects, heldEffects, messages, heldMessages, numbers } = figures
  const lines = [
    { what: 'records changed', count: String(changed - created) },
    { what: 'new records', count: created > 0 ? String(created) : '' },
    ...Object.entries(fields).map(([field, count]) => ({ what: `of these, ${field}`, count: String(count) })),
    ...Object.entries(numbers).map(([sequence, { first, last, count }]) => ({
      what: `numbers of ${sequence}`,
      count: count === 1 ? first : `${first} to ${last} (${count})`,
    })),
    { what: 'other records written', count: counts(effects) },
    { what: 'effects not applied', count: counts(heldEffects) },
    { what: 'messages sent', count: counts(messages) },
    { what: 'messages not sent', count: counts(heldMessages) },
    { what: 'no longer match the filter', count: passed > 0 ? String(passed) : '' },
    { what: 'skipped', count: left > 0 ? String(left) : '' },
  ]
  return lines.filter(({ count }) => count !== '')
}
