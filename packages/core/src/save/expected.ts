import { HookError } from '../errors.js'
import { fieldHint } from '../model/names.js'
import type { RecordValues, Value } from '../model/types.js'
import { fitsType, keptForm } from '../model/values.js'
import type { Store } from '../store/database.js'
import type { Shape } from '../store/shape.js'
import { readHistory } from './history.js'

/** What a row of the input expects its record to hold: so that two people at one record lose nothing without a word. */

/** @throws HookError save/changed-since naming the field, who changed it and when, or save/unknown-field */
export function checkExpected(
  store: Store,
  { table, index, fields }: Shape,
  was: RecordValues,
  expect: Record<string, Value>,
): void {
  for (const [field, expected] of Object.entries(expect)) {
    const known = fields[index.get(field) ?? -1]
    if (!known) throw new HookError('save/unknown-field', { table: table.name, field, hint: fieldHint(field, table) })
    // A time may be written in several ways, and is kept in one.
    const kept = fitsType(known, expected) ? keptForm(known, expected) : expected
    if (was[field] === kept) continue
    const last = readHistory(store, table.name, was.id).findLast(({ changes }) =>
      changes.some((change) => change.field === field && change.from === kept),
    )
    throw new HookError('save/changed-since', {
      table: table.name,
      id: was.id,
      field,
      expected: JSON.stringify(expected),
      got: JSON.stringify(was[field]),
      why: last ? `${last.user} changed it, ${last.at}` : 'nobody changed it from that, as far as its history goes back',
    })
  }
}
