import { HookError } from '../errors.js'
import type { Field, Table } from '../model/types.js'
import { expectedOf, gotOf } from '../model/values.js'
import { BAD_ID } from '../store/shape.js'
import type { SaveRow } from './row.js'

/** What is in a row after hooks ran, and is no value of its field. */

/** @param field null: the id was written */
export const wrongType = (table: Table, field: Field | null, got: unknown): HookError =>
  field
    ? new HookError('hook/wrong-type', { table: table.name, field: field.name, expected: expectedOf(field), got: gotOf(got) })
    : new HookError('hook/readonly', { table: table.name, field: 'id', detail: 'the id of a record cannot be written' })

/** @param found what `diff` gave: below 0 */
export function wrongValue({ shape, now }: SaveRow, found: number): HookError {
  const field = found === BAD_ID ? null : shape.fields[-1 - found]!
  return wrongType(shape.table, field, field ? now![field.name] : now!.id)
}
