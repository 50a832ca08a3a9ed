import type { BackfillWish, Value } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import { fieldHint, hintFor } from '../model/names.js'
import { tableNamed } from '../model/table-named.js'
import type { Field, Table } from '../model/types.js'
import { expectedOf, fitsType, gotOf } from '../model/values.js'
import type { Hook } from '../save/hook.js'
import type { SaveEnvironment } from '../save/environment.js'
import { orderSql } from '../store/order.js'
import { fieldOf, whereSql } from '../store/where.js'

/** What somebody wants a backfill to do, held against the tables and hooks before a record is touched. */

type Ground = Pick<SaveEnvironment, 'project' | 'program' | 'switches'>

/** @returns the table @throws HookError backfill/bad, or hook/unknown-field and hook/bad-query of conditions and order */
export function checkWish(ground: Ground, wish: BackfillWish, user: string): Table {
  const { project } = ground
  const table = tableNamed(project.tables, wish.table)
  const asked = (['hooks', 'set', 'number'] as const).filter((part) => wish[part] !== undefined)
  if (asked.length !== 1)
    throw bad(wish, `it takes one of hooks, set and number, but got ${asked.join(' and ') || 'none of them'}`)
  whereSql(table, wish.where)
  orderSql(table, wish.order)
  for (const name of wish.hooks ?? []) checkHook(ground, wish, name, user)
  if (wish.set) checkValues(table, wish, wish.set)
  if (wish.number) checkNumber(ground, table, wish)
  return table
}

function checkHook({ program, switches }: Ground, wish: BackfillWish, name: string, user: string): void {
  const hook = program.hooks.find((each) => each.name === name)
  const ofTable = program.hooks.filter((each) => each.table === wish.table).map((each) => each.name)
  if (!hook) throw bad(wish, `no release that ${user} gets has a hook ${name}${hintFor(name, ofTable)}`)
  if (hook.table !== wish.table) throw bad(wish, `hook ${name} runs for ${hook.table}, not for ${wish.table}`)
  if (hook.moment === 'before-commit')
    throw bad(wish, `hook ${name} runs at before-commit, where no value can be set; choose before-save or after-save hooks`)
  if (!hook.on.has('create') && !hook.on.has('update'))
    throw bad(wish, `hook ${name} runs on delete only, and a backfill removes nothing`)
  const state = switches?.get(name)?.state ?? hook.state.state
  if (state === 'off') throw bad(wish, `hook ${name} is switched off; switch it on in Release, or leave it out`)
  if (hook.state.state === 'pilot' && !hook.state.users.includes(user))
    throw bad(wish, `hook ${name} is a pilot for ${hook.state.users.join(', ')}, not for ${user}`)
}

function checkValues(table: Table, wish: BackfillWish, values: Record<string, Value>): void {
  const names = Object.keys(values)
  if (names.length === 0) throw bad(wish, 'set names no field')
  for (const name of names) {
    const field = writable(table, wish, name)
    if (!fitsType(field, values[name]))
      throw bad(wish, `set: ${table.name}.${name} takes ${expectedOf(field)}, but got ${gotOf(values[name])}`)
  }
}

function checkNumber({ project }: Ground, table: Table, wish: BackfillWish): void {
  const { field: name, series } = wish.number!
  const field = writable(table, wish, name)
  if (field.type !== 'string') throw bad(wish, `number: ${table.name}.${name} takes ${expectedOf(field)}; a series gives text`)
  if (typeof series !== 'string') {
    if (series.by === name) throw bad(wish, `number: the series of ${name} cannot depend on ${name} itself`)
    writable(table, wish, series.by)
  }
  const names = typeof series === 'string' ? [series] : Object.values(series.of)
  if (names.length === 0) throw bad(wish, 'number: of names no series')
  for (const each of names)
    if (!project.sequences.has(each))
      throw bad(wish, `number: project.json has no sequence ${each}${hintFor(each, project.sequences.keys())}`)
}

function writable(table: Table, wish: BackfillWish, name: string): Field {
  if (name === 'id') throw bad(wish, 'the id of a record stays as it is')
  if (!table.fields.some((field) => field.name === name))
    throw bad(wish, `table ${table.name} has no field ${name}${fieldHint(name, table)}`)
  return fieldOf(table, name) as Field
}

/** Which of the table's hooks a backfill can run: those that have a moment in which a value is set or others are changed. */
export const canRun = ({ moment, on }: Pick<Hook, 'moment' | 'on'>): boolean =>
  moment !== 'before-commit' && (on.has('create') || on.has('update'))

const bad = ({ table }: BackfillWish, detail: string) => new HookError('backfill/bad', { table, detail })
