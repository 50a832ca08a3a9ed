import type { Field } from '../model/types.js'

/** Which fields suit an input. */

export const isText = (field: Field): boolean =>
  field.type === 'string' && field.enum === null && field.format === null && field.pattern === null
export const isNumber = (field: Field): boolean =>
  (field.type === 'number' || field.type === 'integer') && field.link === null && field.enum === null
export const isOptional = (field: Field): boolean => !field.required

/** Can every value of one field be stored in the other? Bounds are checked when the record is saved. */
export function fitsInto(from: Field, to: Field): boolean {
  if (from.link?.table !== to.link?.table) return false
  if (from.type !== to.type && !(from.type === 'integer' && to.type === 'number')) return false
  if (from.format !== to.format && to.format !== null) return false
  return to.enum === null || (from.enum !== null && from.enum.every((choice) => to.enum!.includes(choice)))
}
