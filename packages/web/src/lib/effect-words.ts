import type { SaveOutcome } from '@patient-hook/contract'
import { isSet } from './text'

const of = (count: number, one: string, more: string) => `${count} ${count === 1 ? one : more}`
const byTable = (rows: readonly { table: string; id: number }[]): string => {
  const ids = new Map<string, Set<number>>()
  for (const { table, id } of rows) ids.set(table, (ids.get(table) ?? new Set()).add(id))
  return [...ids].map(([table, all]) => of(all.size, `record of ${table}`, `records of ${table}`)).join(' and ')
}

/** What goes or changes with records that are removed, in sentences. */
export function removalWords({ rows }: Pick<SaveOutcome, 'rows'>): string {
  const others = rows.filter(({ depth, event, changes }) => depth > 0 && (event === 'delete' || changes.length > 0))
  const gone = others.filter(({ event }) => event === 'delete')
  const unlinked = rows.filter(({ event, changes }) => event !== 'delete' && changes.some(({ by }) => by === 'link'))
  const changed = others.filter((row) => row.event !== 'delete' && !unlinked.includes(row))
  const parts = [
    ...(gone.length > 0 ? [`${byTable(gone)} ${gone.length === 1 ? 'goes' : 'go'} with it.`] : []),
    ...(unlinked.length > 0 ? [`${byTable(unlinked)} ${unlinked.length === 1 ? 'loses its' : 'lose their'} link to it.`] : []),
    ...(changed.length > 0 ? [`Hooks also change ${byTable(changed)}.`] : []),
  ]
  return parts.length > 0 ? parts.join(' ') : 'No other records are affected.'
}

/** Effect of a save, in a sentence. */
export function effectWords({ rows, sent, records }: Pick<SaveOutcome, 'rows' | 'sent' | 'records'>): string {
  // Of large saves it is not told what became of each row.
  if (rows.length === 0 && records.length > 0) return `${of(records.length, 'record was written', 'records were written')}.`
  const own = rows.filter(({ depth }) => depth === 0)
  const ripples = rows.filter(({ depth, changes }) => depth > 0 && changes.length > 0)
  const changed = own.filter(({ changes }) => changes.length > 0)
  const removed = own.filter(({ event }) => event === 'delete')
  const byHooks = own
    .flatMap(({ changes }) => changes)
    .filter((change) => isSet(change) && (change.kind === 'hook' || change.kind === 'sequence'))
  const parts = [
    removed.length > 0
      ? `${of(removed.length, 'record goes', 'records go')}`
      : `${of(changed.length, 'record changes', 'records change')}${changed.length < own.length ? ` of ${own.length}` : ''}`,
  ]
  if (byHooks.length > 0) parts.push(`hooks set ${of(byHooks.length, 'value', 'values')} of them`)
  if (ripples.length > 0) {
    const tables = [...new Set(ripples.map(({ table }) => table))]
    parts.push(`${of(ripples.length, 'other record', 'other records')} with them, of ${tables.join(', ')}`)
  }
  if (sent.length > 0) parts.push(of(sent.length, 'message is sent', 'messages are sent'))
  return `${parts.join('; ')}.`
}
