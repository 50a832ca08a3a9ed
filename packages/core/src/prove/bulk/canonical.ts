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
  const contentOf = ({ table, now }: (typeof changed)[number], numbers: (text: string) => string) =>
    now === null ? GONE : told(project.tables.get(table)!, now, tokens, trial, numbers)
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
  const names = new Map<string, string>()
  const numbered = (text: string) =>
    replaced(text, trial.numbers, (number) => {
      if (!names.has(number)) names.set(number, `№${names.size + 1}`)
      return names.get(number)!
    })
  const state: Canonical = new Map()
  for (const { record, name } of named) state.set(name, contentOf(record, numbered))
  const messages = trial.sent
    .map(({ channel, message, hook }) => `${channel} by ${hook}: ${numbered(messageText(subject, message, tokens, trial))}`)
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

function told(
  table: Table,
  record: RecordValues,
  tokens: ReadonlyMap<string, string>,
  trial: Trial,
  numbers: (text: string) => string,
): string {
  return table.fields
    .map(({ name, link }) => {
      const value: Value = record[name] ?? null
      if (link && typeof value === 'number' && trial.fresh.get(link.table)?.has(value))
        return `${name} = ${tokens.get(`${link.table} ${value}`) ?? 'a new one'}`
      return `${name} = ${typeof value === 'string' ? JSON.stringify(numbers(value)) : String(value)}`
    })
    .join('\n')
}

function replaced(text: string, numbers: ReadonlySet<string>, by: (number: string) => string): string {
  let result = text
  for (const number of numbers) if (result.includes(number)) result = result.split(number).join(by(number))
  return result
}

/** Ids of new records in a message, by the names that they have here: under `id`, or the name of a table. */
function messageText(subject: Subject, message: unknown, tokens: ReadonlyMap<string, string>, trial: Trial): string {
  const { project } = subject.environment
  const tables = [subject.table.name, ...trial.fresh.keys()]
  const nameOf = (id: number, key: string): string | undefined => {
    const wanted = project.tables.has(key) ? [key] : key === 'id' || key.endsWith('_id') ? tables : []
    const table = wanted.find((each) => trial.fresh.get(each)?.has(id))
    return table === undefined ? undefined : tokens.get(`${table} ${id}`)
  }
  return JSON.stringify(message, (key, value: unknown) => (typeof value === 'number' ? (nameOf(value, key) ?? value) : value))
}
