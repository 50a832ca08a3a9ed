import { HookError } from '../errors.js'
import type { Table, Value } from '../model/types.js'
import { gotOf } from '../model/values.js'
import { plainCondition, whereSql } from '../store/where.js'
import { setsOf, type AskedSet } from './asked-sets.js'
import { groupsOf, onOne, type AskedEffect, type ByCondition, type Where } from './condition-groups.js'
import type { Session } from './session.js'

/**
 * Effects that name their records by a condition. They are gathered while the hook runs and looked up when it has ended: those that differ
 * only in what one field is, such as the link to the row that each was asked for, in one query, so it is one for a batch of any size.
 */

type Asked = AskedEffect & { where: Where | number }

/** From the first condition on, effects in the order in which a hook asked for them: the last word of a row holds. */
export class AskedInOrder {
  #asked: Asked[] = []

  constructor(private readonly session: Session) {}

  get isOpen(): boolean {
    return this.#asked.length > 0
  }

  /** @throws HookError of a condition that cannot be */
  add(effect: AskedEffect, which: number | object): void {
    const { call, table, values, asker, origin } = effect
    const { project, stage } = this.session
    const where = isCondition(which) ? takeWhere(project.tables.get(table)!, which, call) : which
    stage.recorder?.effect(call, table, typeof where === 'number' ? where : null, values, where)
    this.#asked.push({ call, table, values, asker, origin, where })
  }

  /** All of it as sets, where no single record has to be looked at; none is left then. @throws HookError budget/spent */
  takeSets(isFree: (table: string) => boolean): readonly AskedSet[] | null {
    const sets = setsOf(this.session, this.#asked, isFree)
    if (sets) this.#asked = []
    return sets
  }

  /** Each effect on each of its records; none is left. @throws HookError budget/spent */
  *take(): Generator<AskedEffect & { id: number }> {
    const asked = this.#asked
    this.#asked = []
    const ids = recordsOf(
      this.session,
      asked.filter((each): each is ByCondition => typeof each.where === 'object'),
    )
    let next = 0
    for (const effect of asked) {
      const { where } = effect
      for (const id of typeof where === 'number' ? [where] : ids[next++]!) yield onOne(effect, id)
    }
  }
}

/**
 * The condition, checked.
 * @param given plain data
 * @throws HookError hook/bad-effect, hook/bad-query, hook/unknown-field
 */
function takeWhere(table: Table, given: object, call: 'update' | 'remove'): Where {
  const where = given as Where
  if (plainCondition(table, given)) return where
  if (Object.keys(where).length === 0)
    throw new HookError('hook/bad-effect', {
      table: table.name,
      detail: `${call}('${table.name}', {}${call === 'update' ? ', values' : ''}) has no condition, so it would be every record: write { id: { gte: 1 } } if that is meant`,
    })
  whereSql(table, where)
  return where
}

export const isCondition = (id: unknown): id is object => id !== null && typeof id === 'object'

/** What an id may be said to be instead. */
export const orCondition = (id: unknown): string =>
  `takes the id of a record (an integer) or a condition ({ field: value }), but got ${gotOf(id)}`

/** The ids of the records that each condition holds for, rising. By find, which counts what it reads. @throws HookError budget/spent */
function recordsOf(session: Session, asked: readonly ByCondition[]): (readonly number[])[] {
  const ids: (readonly number[])[] = asked.map(() => [])
  for (const { table, key, rest, asked: alike } of groupsOf(session, asked)) {
    const values = [...new Set(alike.map(({ value }) => value))]
    const where = key === null ? rest : { ...rest, [key]: values.length === 1 ? values[0]! : { in: values } }
    const records = session.reads.store.find(table, where, { fields: key === null || key === 'id' ? ['id'] : [key] })
    const byValue = new Map<Value, number[]>()
    for (const record of records) {
      const value = key === null ? null : record[key]!
      const list = byValue.get(value)
      if (list) list.push(record.id)
      else byValue.set(value, [record.id])
    }
    for (const { place, value, not } of alike) {
      const matching = byValue.get(value) ?? []
      ids[place] = not.size === 0 ? matching : matching.filter((id) => !not.has(id))
    }
  }
  return ids
}
