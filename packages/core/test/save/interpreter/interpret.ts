import type { Value } from '../../../src/model/types.js'
import type { Effect, Rule } from './rules.js'

/**
 * What docs/hooks.md says of a save, over Maps in memory: nothing of the engine is used. Only what the generator makes: three tables,
 * typed rows by id, and the rules of rules.ts.
 */

export type Rec = Record<string, Value>
export interface Change {
  table: string
  id: number
  event: 'create' | 'update' | 'delete'
  was: Rec | null
  now: Rec | null
  /** The typed row, from 1; 0 for a ripple. */
  row: number
}
export interface Input {
  table: string
  values: Rec
  remove?: true
  /** The id that a new record is given, where it is given before. */
  fresh?: number
}

export interface TableRules {
  fields: readonly string[]
  defaults: Rec
  /** Parents first. */
  links: readonly { field: string; table: string; onDelete: 'cascade' | 'clear' | 'refuse' }[]
  wrong(record: Rec): boolean
  unique: readonly string[]
}

export class Data {
  constructor(
    readonly tables: ReadonlyMap<string, Map<number, Rec>>,
    readonly next: Map<string, number>,
  ) {}
  all(table: string): Rec[] {
    return [...this.tables.get(table)!.values()]
  }
  get(table: string, id: Value | undefined): Rec | undefined {
    return typeof id === 'number' ? this.tables.get(table)!.get(id) : undefined
  }
  copy(): Data {
    return new Data(
      new Map(
        [...this.tables].map(([name, records]) => [name, new Map([...records].map(([id, record]) => [id, { ...record }]))]),
      ),
      new Map(this.next),
    )
  }
}

class Refused extends Error {}

export interface Outcome {
  data: Data
  refused: boolean
}

/** A save of all rows or of none. @param batchSize typed rows go through all stations in such parts */
export function interpret(
  before: Data,
  schema: ReadonlyMap<string, TableRules>,
  rules: readonly Rule[],
  inputs: readonly Input[],
  batchSize: number,
): Outcome {
  const data = before.copy()
  const touched = new Map<number, Change>()
  const deleted: { table: string; id: number }[] = []
  const refuse = (): never => {
    throw new Refused()
  }
  const rulesAt = (table: string, moment: Rule['moment']) =>
    rules.filter((rule) => rule.table === table && rule.moment === moment).sort((a, b) => (a.name < b.name ? -1 : 1))
  const isWoken = (rule: Rule, { event, was, now }: Change): boolean => {
    if (!rule.on.includes(event)) return false
    if (!rule.watch || event === 'delete') return true
    return event === 'create'
      ? rule.watch.some((field) => now![field] !== null)
      : rule.watch.some((field) => now![field] !== was![field])
  }

  /** Records that typed rows of this save made: nobody can name them by an id. */
  const made = new Set<string>()
  function changeOf({ table, values, remove, fresh: fixed }: Input, row: number): Change | null {
    const { fields, defaults } = schema.get(table)!
    const { id, ...given } = values
    if (id === undefined) {
      const fresh = fixed ?? data.next.get(table)!
      data.next.set(table, Math.max(fresh + 1, data.next.get(table)!))
      if (row > 0) made.add(`${table} ${fresh}`)
      const blank = Object.fromEntries(fields.map((field) => [field, defaults[field] ?? null]))
      return { table, id: fresh, event: 'create', was: null, now: { ...blank, ...given, id: fresh }, row }
    }
    if (row > 0 && made.has(`${table} ${String(id)}`)) refuse()
    const was = data.get(table, id)
    // A row of a record that went with its parent in this save does nothing, whether its batch comes before that or after.
    if (!was) return row > 0 && !before.get(table, id) ? refuse() : null
    if (remove) return { table, id: id as number, event: 'delete', was: { ...was }, now: null, row }
    return { table, id: id as number, event: 'update', was: { ...was }, now: { ...was, ...given }, row }
  }

  function check(changes: readonly Change[]): void {
    for (const { table, id, was, now } of changes) {
      if (!now) continue
      const { wrong, unique, links } = schema.get(table)!
      if (wrong(now)) refuse()
      for (const { field, table: target } of links)
        if (now[field] !== null && now[field] !== was?.[field] && !data.get(target, now[field])) refuse()
      for (const field of unique) {
        if (now[field] === null) continue
        const others = data.all(table).filter((record) => record['id'] !== id && record[field] === now[field])
        // Whoever is in the batch speaks for itself, and whoever comes later may give the value up.
        const speaks = (of: Value | undefined) =>
          changes.some((change) => change.id === of) || coming.has(`${table} ${String(of)}`)
        if (others.some((record) => !speaks(record['id']))) refuse()
        if (changes.some((change) => change.id !== id && change.now?.[field] === now[field])) refuse()
      }
    }
  }

  /** Records that typed rows name which are not saved yet. */
  const coming = new Set(inputs.map(({ table, values }) => `${table} ${String(values['id'])}`))

  function level(inputs: readonly { input: Input; row: number }[], depth: number): void {
    if (depth > 8) refuse()
    const changes = inputs.flatMap(({ input, row }) => changeOf(input, row) ?? [])
    for (const { table, id } of changes) coming.delete(`${table} ${id}`)
    const saved: Change[][] = []
    for (const table of schema.keys()) {
      const own = changes.filter((change) => change.table === table)
      if (own.length === 0) continue
      for (const rule of rulesAt(table, 'before-save'))
        rule.run(
          own.filter((change) => isWoken(rule, change)),
          data,
          refuse,
        )
      check(own)
      const written = own.filter(
        ({ event, was, now }) => event !== 'update' || Object.keys(now!).some((field) => now![field] !== was![field]),
      )
      for (const change of written) {
        if (change.now) data.tables.get(table)!.set(change.id, { ...change.now })
        else {
          data.tables.get(table)!.delete(change.id)
          deleted.push(change)
        }
        if (table === 'box') touched.set(change.id, change)
        if (table === 'part')
          for (const id of [change.now?.['box'], change.was?.['box']])
            if (typeof id === 'number' && !touched.has(id))
              touched.set(id, { table: 'box', id, event: 'update', was: null, now: null, row: 0 })
      }
      saved.push(written)
    }
    const effects: Effect[] = []
    for (const written of saved) {
      const [first] = written
      if (!first) continue
      for (const rule of rulesAt(first.table, 'after-save')) {
        const woken = written.filter((change) => isWoken(rule, change))
        if (woken.length > 0) effects.push(...rule.run(woken, data, refuse))
      }
      for (const { event, table, id } of written) {
        if (event !== 'delete') continue
        for (const [child, { links }] of schema)
          for (const { field, table: target, onDelete } of links) {
            if (target !== table || onDelete === 'refuse') continue
            for (const record of data.all(child).filter((each) => each[field] === id))
              effects.push(
                onDelete === 'cascade'
                  ? { kind: 'remove', table: child, id: record['id'] as number }
                  : { kind: 'update', table: child, id: record['id'] as number, values: { [field]: null } },
              )
          }
      }
    }
    const next = ripple(effects)
    if (next.length > 0) level(next, depth + 1)
  }

  function ripple(effects: readonly Effect[]): { input: Input; row: number }[] {
    const removes = new Map<string, Input>()
    const updates = new Map<string, Input>()
    const creates: Input[] = []
    for (const effect of effects) {
      if (effect.kind === 'create') creates.push({ table: effect.table, values: effect.values })
      else {
        const key = `${effect.table} ${effect.id}`
        if (effect.kind === 'remove') removes.set(key, { table: effect.table, values: { id: effect.id }, remove: true })
        else {
          const values = { ...updates.get(key)?.values, ...effect.values, id: effect.id }
          updates.set(key, { table: effect.table, values })
        }
      }
    }
    for (const key of removes.keys()) updates.delete(key)
    return [...removes.values(), ...updates.values(), ...creates].map((input) => ({ input, row: 0 }))
  }

  try {
    const rows = inputs.map((input, at) => ({ input, row: at + 1 }))
    for (let from = 0; from < rows.length; from += batchSize) level(rows.slice(from, from + batchSize), 0)
    for (const [table, { unique }] of schema)
      for (const field of unique) {
        const values = data.all(table).flatMap((record) => record[field] ?? [])
        if (new Set(values).size < values.length) refuse()
      }
    for (const rule of rulesAt('box', 'before-commit'))
      rule.run(
        [...touched.values()].filter(({ id }) => data.get('box', id)),
        data,
        refuse,
      )
    for (const { table, id } of deleted)
      for (const [child, { links }] of schema)
        for (const { field, table: target } of links)
          if (target === table && data.all(child).some((record) => record[field] === id)) refuse()
    return { data, refused: false }
  } catch (error) {
    if (!(error instanceof Refused)) throw error
    return { data: before, refused: true }
  }
}

/** Keeps the good rows: those that would be saved if the others had never been given; for rows that do not depend on each other. */
export function interpretPartially(
  before: Data,
  schema: ReadonlyMap<string, TableRules>,
  rules: readonly Rule[],
  inputs: readonly Input[],
): { data: Data; refused: number[] } {
  const refused = inputs.flatMap((input, at) => (interpret(before, schema, rules, [input], 1).refused ? [at + 1] : []))
  // A row has the same id whether others are refused or not.
  const next = new Map(before.next)
  const numbered = inputs.map((input): Input => {
    if (input.values['id'] !== undefined) return input
    const fresh = next.get(input.table)!
    next.set(input.table, fresh + 1)
    return { ...input, fresh }
  })
  const good = numbered.filter((_, at) => !refused.includes(at + 1))
  return { data: interpret(before, schema, rules, good, good.length || 1).data, refused }
}
