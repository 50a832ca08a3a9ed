import type { HookInfo, Table } from '@patient-hook/contract'
import type { RouteLocationRaw } from 'vue-router'
import { contains } from './natural'

/** What the finder goes over: places of the application, tables, fields and hooks by name and label. */

export interface Entry {
  /** What kind of thing it is. */
  kind: 'view' | 'table' | 'field' | 'hook' | 'record' | 'list view' | 'command'
  word: string
  /** Where it belongs, or its name. */
  detail: string
  to?: RouteLocationRaw
  run?: () => void
}

const PLACES: [word: string, name: string][] = [
  ['Overview', 'overview'],
  ['Model', 'model'],
  ['Project settings', 'settings'],
  ['Write', 'write'],
  ['Rehearse', 'rehearse'],
  ['Prove', 'prove'],
  ['Fixture sets', 'fixtures'],
  ['Release', 'release'],
  ['Records', 'records'],
  ['Saves', 'saves'],
  ['Backfills', 'backfills'],
  ['Outbox', 'outbox'],
  ['Backups', 'backups'],
  ['API keys', 'keys'],
  ['Help', 'help'],
]

export function entriesOf(tables: readonly Table[], hooks: readonly HookInfo[]): Entry[] {
  return [
    ...PLACES.map(([word, name]): Entry => ({ kind: 'view', word, detail: '', to: { name } })),
    ...hooks.map((hook): Entry => ({
      kind: 'hook',
      word: hook.name,
      detail: `${hook.moment} of ${hook.table}, in ${hook.plugin}`,
      to: { name: 'write', params: { hook: hook.name } },
    })),
    ...tables.flatMap((table): Entry[] => [
      {
        kind: 'table',
        word: table.label,
        detail: `${table.name}, its model`,
        to: { name: 'model', params: { table: table.name } },
      },
      {
        kind: 'table',
        word: table.label,
        detail: `${table.name}, its records`,
        to: { name: 'records', params: { table: table.name } },
      },
      {
        kind: 'command',
        word: `New ${table.label}`,
        detail: `a record of ${table.name}`,
        to: { name: 'records', params: { table: table.name, id: 'new' } },
      },
    ]),
    ...tables.flatMap((table) =>
      table.fields.map((field): Entry => ({
        kind: 'field',
        word: field.label,
        detail: `${table.name}.${field.name}`,
        to: { name: 'model', params: { table: table.name }, hash: `#${field.name}` },
      })),
    ),
  ]
}

/** Those that contain what was typed; names that begin with it first. */
export function matching(entries: readonly Entry[], typed: string, most: number): Entry[] {
  const text = typed.trim().toLowerCase()
  if (text === '') return entries.slice(0, most)
  const rank = ({ word, detail }: Entry) =>
    word.toLowerCase().startsWith(text) ? 0 : word.toLowerCase().includes(text) ? 1 : detail.toLowerCase().includes(text) ? 2 : 3
  return entries
    .filter(({ word, detail }) => contains([word, detail], typed))
    .map((entry, place) => ({ entry, place, rank: rank(entry) }))
    .sort((one, other) => one.rank - other.rank || one.place - other.place)
    .slice(0, most)
    .map(({ entry }) => entry)
}
