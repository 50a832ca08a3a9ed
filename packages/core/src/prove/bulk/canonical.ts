import type { RecordValues, Table, Value } from '@patient-hook/contract'
import type { Subject } from './subject.js'
import type { Trial } from './trial.js'

/**
 * What a trial left behind, told so that two trials are the same where they differ only in the ids of new records and in which numbers
 * of a sequence were given to whom. A number given twice stays a number given twice.
 */

/** By record: its fields; and the messages. */
export type Canonical = Map<string, string>

/** Typed rows are named by their place, which is the same in both trials. */
export function canonical(subject: Subject, trial: Trial): Canonical {
  const { project } = subject.environment
  const tokens = new Map<string, string>()
  for (const [place, { table, id }] of trial.typed)
    if (trial.fresh.get(table)?.has(id)) tokens.set(`${table} ${id}`, `new ${table}, row ${place + 1}`)
  const changed = trial.records.filter(({ was, now }) => !same(was, now))
  const names = namesOf(tokens, trial)
  const contentOf = ({ table, now }: (typeof changed)[number], numbers: (text: string) => string) =>
    now === null ? GONE : told(project.tables.get(table)!, now, names, numbers)
  const unnamed = (text: string) => replaced(text, trial.numbers, () => '№')

  // New records of ripples have no name but what is in them; twice, since they may link to each other.
  for (let round = 0; round < 2; round++) {
    const made = changed
      .filter(({ table, id }) => trial.fresh.get(table)?.has(id) && !isTyped(trial, table, id))
      .map((record) => ({ record, content: contentOf(record, unnamed) }))
      .sort((a, b) => (a.content < b.content ? -1 : a.content > b.content ? 1 : 0))
    const counts = new Map<string, number>()
    for (const { record } of made) {
      const count = (counts.get(record.table) ?? 0) + 1
      counts.set(record.table, count)
      tokens.set(`${record.table} ${record.id}`, `new ${record.table} of a ripple, ${count}`)
    }
  }
  const named = changed
    .map((record) => ({ record, name: tokens.get(`${record.table} ${record.id}`) ?? `${record.table} ${record.id}` }))
    .map((each) => ({ ...each, order: `${contentOf(each.record, unnamed)} ${each.name}` }))
    .sort((a, b) => (a.order < b.order ? -1 : 1))
  const given = new Map<string, string>()
  const numbered = (text: string) =>
    replaced(text, trial.numbers, (number) => {
      if (!given.has(number)) given.set(number, `№${given.size + 1}`)
      return given.get(number)!
    })
  const state: Canonical = new Map()
  for (const { record, name } of named) state.set(name, contentOf(record, numbered))
  const messages = trial.sent
    .map(({ channel, message, hook }) => `${channel} by ${hook}: ${numbered(names.within(JSON.stringify(message)))}`)
    .sort()
  messages.forEach((message, at) => state.set(`message ${at + 1}`, message))
  return state
}

const GONE = 'gone'

function fateWord(key: string, told: string | undefined): string {
  if (told === GONE) return 'removed'
  const isNew = key.startsWith('new ') || key.startsWith('message ')
  if (told === undefined) return isNew ? 'not there' : 'left as it was'
  return isNew ? `there (${told.split('\n').slice(0, 3).join(', ')})` : 'changed'
}

/** The first thing in which they differ, in words; null where they are the same. */
export function differenceOf(a: Canonical, b: Canonical, [wordA, wordB]: readonly [string, string]): string | null {
  for (const key of [...new Set([...a.keys(), ...b.keys()])].sort()) {
    const [left, right] = [a.get(key), b.get(key)]
    if (left === right) continue
    if (left === undefined || right === undefined || left === GONE || right === GONE)
      return `${key} is ${fateWord(key, left)} ${wordA}, and ${fateWord(key, right)} ${wordB}`
    const [of, to] = [left.split('\n'), right.split('\n')]
    const at = of.findIndex((line, index) => line !== to[index])
    return `${key}: ${wordA} ${of[at] ?? left}, ${wordB} ${to[at] ?? right}`
  }
  return null
}

function same(a: RecordValues | null, b: RecordValues | null): boolean {
  if (a === null || b === null) return a === b
  return Object.keys({ ...a, ...b }).every((field) => (a[field] ?? null) === (b[field] ?? null))
}

const isTyped = (trial: Trial, table: string, id: number): boolean =>
  [...trial.typed.values()].some((each) => each.table === table && each.id === id)

function told(table: Table, record: RecordValues, names: Names, numbers: (text: string) => string): string {
  return table.fields
    .map(({ name }) => {
      const value: Value = record[name] ?? null
      if (typeof value === 'string') return `${name} = ${JSON.stringify(numbers(names.within(value)))}`
      return `${name} = ${(typeof value === 'number' ? names.of(value) : undefined) ?? plain(value)}`
    })
    .join('\n')
}

function replaced(text: string, numbers: ReadonlySet<string>, by: (number: string) => string): string {
  let result = text
  for (const number of numbers) if (result.includes(number)) result = result.split(number).join(by(number))
  return result
}

/** Names of new records for their ids, of which no two tables have the same. */
interface Names {
  of(id: number): string | undefined
  /** Whatever a hook wrote an id into; no other number there is like one. */
  within(text: string): string
}

function namesOf(tokens: ReadonlyMap<string, string>, trial: Trial): Names {
  const of = (id: number): string | undefined => {
    for (const [table, ids] of trial.fresh) if (ids.has(id)) return tokens.get(`${table} ${id}`) ?? 'a new one'
    return undefined
  }
  return { of, within: (text) => text.replaceAll(/(?<!\d|\d\.)\d+(?!\d|\.\d)/g, (number) => of(Number(number)) ?? number) }
}

/** What sums in another order differ by is no difference. */
const plain = (value: Value): string => (typeof value === 'number' ? String(Number(value.toPrecision(12))) : String(value))
