import { HookError } from '../errors.js'
import { fieldHint } from '../model/names.js'
import type { Project, Value, Values } from '../model/types.js'
import { expectedOf, fitsType, gotOf, keptForm } from '../model/values.js'
import { shapeOf } from '../store/shape.js'

/**
 * The values that an effect asks for, checked against the table.
 * @param values plain data of the engine's own, which is given back
 * @throws HookError
 */
export function checkEffect(project: Project, table: string, values: unknown, effect: 'update' | 'create', id?: number): Values {
  const known = project.tables.get(table)
  if (!known) throw new HookError('project/unknown-table', { table, hint: '' })
  // Put together for an error only: effects come by the hundred thousand.
  const call = () => `${effect}('${table}'${id === undefined ? '' : `, ${id}`}, values)`
  if (gotOf(values) !== 'an object')
    throw new HookError('hook/bad-effect', { detail: `${call()} takes an object of values, but got ${gotOf(values)}` })
  const shape = shapeOf(known)
  const taken = values as Record<string, unknown>
  for (const name in taken) {
    const value = taken[name]
    const field = shape.fields[shape.index.get(name) ?? -1]
    if (!field) {
      if (name === 'id')
        throw new HookError('hook/bad-effect', { table, field: name, detail: `${call()}: the id of a record cannot be set` })
      throw new HookError('hook/unknown-field', { table, field: name, hint: fieldHint(name, known) })
    }
    if (!fitsType(field, value))
      throw new HookError('hook/wrong-type', { table, field: name, expected: expectedOf(field), got: gotOf(value) })
    if (field.format === 'date-time') taken[name] = keptForm(field, value)
  }
  return taken as Record<string, Value>
}
