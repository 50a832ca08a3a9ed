import type { Field, RecordValues, Table, Value } from '../model/types.js'
import { shapeOf } from '../store/shape.js'
import type { Hook } from './hook.js'
import { RowView, type SaveRow } from './row.js'
import type { Session } from './session.js'

/**
 * Asks `only` of a hook about records of which no more is known than their id and what they are about to take. What it asks beyond that ends the
 * question, since the records would have to be read for it.
 */

const UNKNOWN = 'this field of the record was not read'

/** Remembers that something was asked that is not known, whatever hook code does with the error. */
class Glimpse {
  beyond = false
  id = 0
  values: readonly Value[] = []
  readonly now: RecordValues
  readonly was: RecordValues

  constructor(fields: readonly Field[]) {
    const names = new Map(fields.map(({ name }, index) => [name, index]))
    const unknown = (): never => {
      this.beyond = true
      throw new Error(UNKNOWN)
    }
    const closed = {
      has: unknown,
      ownKeys: unknown,
      getOwnPropertyDescriptor: unknown,
      getPrototypeOf: unknown,
      set: unknown,
      defineProperty: unknown,
      deleteProperty: unknown,
      setPrototypeOf: unknown,
      preventExtensions: unknown,
      isExtensible: unknown,
    }
    const of = (known: (name: string) => number | undefined): RecordValues =>
      new Proxy({} as RecordValues, {
        ...closed,
        get: (_, key) => {
          if (key === 'id') return this.id
          const index = typeof key === 'string' ? known(key) : undefined
          return index === undefined ? unknown() : this.values[index]
        },
      })
    this.now = of((name) => names.get(name))
    this.was = of(() => undefined)
  }
}

/**
 * @param values of each record, what the fields take
 * @returns whether `only` says no of all of them; false also where it asks for more, or fails
 */
export function saysNoOfAll(
  session: Session,
  hook: Hook,
  table: Table,
  fields: readonly Field[],
  ids: readonly number[],
  values: readonly (readonly Value[])[],
): boolean {
  const { only } = hook
  if (!only) return false
  const glimpse = new Glimpse(fields)
  const { now, was } = glimpse
  const shape = shapeOf(table)
  const sink = { refuse: () => void (glimpse.beyond = true) }
  session.stage.enter(hook, 'only')
  try {
    for (const [index, id] of ids.entries()) {
      glimpse.id = id
      glimpse.values = values[index]!
      const row = { shape, id, event: 'update', was, now, copiedFrom: null, row: index + 1 } as unknown as SaveRow
      session.stage.at(row)
      if (only(new RowView(row, now, sink)) || glimpse.beyond) return false
    }
    return true
  } catch {
    return false
  } finally {
    session.leave()
  }
}
