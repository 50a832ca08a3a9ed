import type { SaveOutcome } from '@patient-hook/contract'

/** What a save does, in a sentence. */
export function effectWords({ rows, sent }: Pick<SaveOutcome, 'rows' | 'sent'>): string {
  const of = (count: number, one: string, more: string) => `${count} ${count === 1 ? one : more}`
  const own = rows.filter(({ depth }) => depth === 0)
  const ripples = rows.filter(({ depth, changes }) => depth > 0 && changes.length > 0)
  const changed = own.filter(({ changes }) => changes.length > 0)
  const removed = own.filter(({ event }) => event === 'delete')
  const byHooks = own.flatMap(({ changes }) => changes).filter(({ kind }) => kind === 'hook' || kind === 'sequence')
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
