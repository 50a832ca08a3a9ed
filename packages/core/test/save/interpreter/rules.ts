import { hook } from '../../world.js'
import type { Change, Data, Rec } from './interpret.js'

/**
 * Each rule of the trade twice: as a hook, and as plain code over records in memory, written from docs/hooks.md. Hooks of a table and moment
 * run in the order of their names.
 */
export interface Rule {
  name: string
  table: 'box' | 'part'
  moment: 'before-save' | 'after-save' | 'before-commit'
  on: readonly Change['event'][]
  watch: readonly string[] | null
  /** The hook's literal. */
  code: string
  /** What the hook does for the rows that it runs for. @returns effects of after-save; rows are changed, or refused */
  run(rows: readonly Change[], data: Data, refuse: (row: Change) => void): Effect[]
}

export type Effect =
  | { kind: 'update'; table: string; id: number; values: Rec }
  | { kind: 'create'; table: string; values: Rec }
  | { kind: 'remove'; table: string; id: number }

const BOTH = ['create', 'update'] as const
const ALL = ['create', 'update', 'delete'] as const
const each =
  (work: (row: Change, data: Data) => void | boolean): Rule['run'] =>
  (rows, data, refuse) => {
    for (const row of rows) if (work(row, data) === false) refuse(row)
    return []
  }
const listed = (names: readonly string[]) => JSON.stringify(names)

/** @param n makes each use of a rule another one */
export const RULES: readonly ((n: number) => Rule)[] = [
  (n) => ({
    name: 'a-default',
    table: 'part',
    moment: 'before-save',
    on: BOTH,
    watch: null,
    code: `{ table: 'part', moment: 'before-save', only: row => row.now.note === null, each(row) { row.now.note = 'd${n}' } }`,
    run: each((row) => void (row.now!['note'] ??= `d${n}`)),
  }),
  (n) => ({
    name: 'b-derive',
    table: 'part',
    moment: 'before-save',
    on: BOTH,
    watch: ['qty'],
    code: `{ table: 'part', moment: 'before-save', watch: ['qty'], each(row) { row.now.cost = row.now.qty === null ? null : row.now.qty * ${n} } }`,
    run: each(({ now }) => void (now!['cost'] = now!['qty'] === null ? null : (now!['qty'] as number) * n)),
  }),
  (n) => ({
    name: 'c-copy',
    table: 'part',
    moment: 'before-save',
    on: n % 2 ? BOTH : ['create'],
    watch: ['box'],
    code: `{ table: 'part', moment: 'before-save', ${n % 2 ? '' : `on: ['create'], `}watch: ['box'],
      load: ({ rows, store }) => store.byId('box', rows.map(row => row.now.box), ['name']),
      each(row, boxes) { row.now.label = boxes.get(row.now.box)?.name ?? null } }`,
    run: each(({ now }, data) => void (now!['label'] = data.get('box', now!['box'])?.['name'] ?? null)),
  }),
  (n) => ({
    name: 'd-bound',
    table: 'part',
    moment: 'before-save',
    on: BOTH,
    watch: ['qty'],
    code: `{ table: 'part', moment: 'before-save', watch: ['qty'], each(row) { if (row.now.qty > ${n + 2}) row.refuse('qty', 'too many') } }`,
    run: each(({ now }) => !((now!['qty'] as number) > n + 2)),
  }),
  () => ({
    name: 'e-became',
    table: 'part',
    moment: 'before-save',
    on: BOTH,
    watch: ['kind'],
    code: `{ table: 'part', moment: 'before-save', watch: ['kind'], only: row => row.became(part => part.kind === 'b'), each(row) { row.now.note = 'became b' } }`,
    run: each(({ was, now }) => {
      if (now!['kind'] === 'b' && was?.['kind'] !== 'b') now!['note'] = 'became b'
    }),
  }),
  (n) => ({
    name: 'f-stamp',
    table: 'part',
    moment: 'before-save',
    on: ['create'],
    watch: null,
    code: `{ table: 'part', moment: 'before-save', on: ['create'], each(row) { row.now.stamp = 's' + (row.now.qty ?? 'none') + '-${n}' } }`,
    run: each(({ now }) => void (now!['stamp'] = `s${now!['qty'] ?? 'none'}-${n}`)),
  }),
  (n) => ({
    name: 'g-trim',
    table: 'box',
    moment: 'before-save',
    on: BOTH,
    watch: ['name'],
    code: `{ table: 'box', moment: 'before-save', watch: ['name'], each(row) { if (row.now.name !== null) row.now.name = row.now.name.slice(0, ${n}) } }`,
    run: each(({ now }) => {
      if (typeof now!['name'] === 'string') now!['name'] = now!['name'].slice(0, n)
    }),
  }),
  (n) => ({
    name: 'h-total',
    table: 'part',
    moment: 'after-save',
    on: ALL,
    watch: n % 2 ? ['box', 'qty'] : null,
    code: `{ table: 'part', moment: 'after-save', on: ${listed(ALL)}, ${n % 2 ? `watch: ['box', 'qty'],` : ''}
      finish({ rows, store, update }) {
        const boxes = rows.flatMap(row => [row.now?.box, row.was?.box])
        for (const [id, { count, sum }] of store.rollup('part', 'box', boxes, { count: true, sum: ['qty'] })) update('box', id, { parts: count, total: sum.qty })
      } }`,
    run: (rows, data) =>
      [...new Set(rows.flatMap(({ now, was }) => [now?.['box'], was?.['box']]))].flatMap((id): Effect[] => {
        if (typeof id !== 'number') return []
        const parts = data.all('part').filter((part) => part['box'] === id)
        const total = parts.reduce((sum, part) => sum + ((part['qty'] as number | null) ?? 0), 0)
        return [{ kind: 'update', table: 'box', id, values: { parts: parts.length, total } }]
      }),
  }),
  () => ({
    name: 'i-log',
    table: 'part',
    moment: 'after-save',
    on: ['create'],
    watch: null,
    code: `{ table: 'part', moment: 'after-save', on: ['create'], only: row => row.now.kind === 'b', each(row, _, { create }) { create('log', { word: 'part ' + row.now.qty }) } }`,
    run: (rows) =>
      rows
        .filter(({ now }) => now!['kind'] === 'b')
        .map(({ now }) => ({ kind: 'create', table: 'log', values: { word: `part ${String(now!['qty'])}` } })),
  }),
  () => ({
    name: 'j-push',
    table: 'box',
    moment: 'after-save',
    on: ['update'],
    watch: ['name'],
    code: `{ table: 'box', moment: 'after-save', on: ['update'], watch: ['name'], each(row, _, { update }) { update('part', { box: row.id }, { label: row.now.name }) } }`,
    run: (rows, data) =>
      rows.flatMap(({ id, now }) =>
        data
          .all('part')
          .filter((part) => part['box'] === id)
          .map((part): Effect => ({ kind: 'update', table: 'part', id: part['id'] as number, values: { label: now!['name']! } })),
      ),
  }),
  () => ({
    name: 'k-empty-goes',
    table: 'part',
    moment: 'after-save',
    on: BOTH,
    watch: ['qty'],
    code: `{ table: 'part', moment: 'after-save', watch: ['qty'], only: row => row.now.qty === 0, each(row, _, { remove }) { remove('part', row.id) } }`,
    run: (rows) => rows.filter(({ now }) => now!['qty'] === 0).map(({ id }): Effect => ({ kind: 'remove', table: 'part', id })),
  }),
  (n) => ({
    name: 'l-limit',
    table: 'box',
    moment: 'before-commit',
    on: BOTH,
    watch: null,
    code: `{ table: 'box', moment: 'before-commit', touchedBy: ['part.box'],
      load: ({ rows, store }) => store.rollup('part', 'box', rows.map(row => row.id), { count: true }),
      each(row, counts) { if ((counts.get(row.id)?.count ?? 0) > ${n}) row.refuse(null, 'full') } }`,
    run: each(({ id }, data) => data.all('part').filter((part) => part['box'] === id).length <= n),
  }),
]

export const codeOf = (rule: Rule): string => hook(rule.code)
