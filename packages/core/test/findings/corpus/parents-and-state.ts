import type { Entry } from './entry.js'

const module = (code: string, each: string) =>
  `import { defineHook } from 'patient-hook'\n${code}\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { ${each} } })`
const count = (on: string, ids: string, more = '') =>
  `{ table: 'request_line', moment: 'after-save', on: [${on}], ${more} finish({ rows, store, update }) { for (const [id, { count }] of store.rollup('request_line', 'request', ${ids}, { count: true })) update('request', id, { line_count: count }) } }`
const ALL = `'create', 'update', 'delete'`

/** Roll-ups on parents, trees, what is kept between rows, and hooks that depend on each other. */
export const parentsAndState: Entry[] = [
  // Roll-ups
  {
    what: 'a roll-up of both parents, on delete too',
    hooks: count(ALL, `rows.flatMap(r => [r.now?.request, r.was?.request])`),
    finds: [],
  },
  {
    what: 'a roll-up of both sides in one map',
    hooks: count(ALL, `rows.flatMap(r => [r.now, r.was].map(side => side?.request))`),
    finds: [],
  },
  {
    what: 'a roll-up that misses deletes',
    hooks: count(`'create', 'update'`, `rows.flatMap(r => [r.now.request, r.was?.request])`),
    finds: ['roll-up-forgets'],
  },
  {
    what: 'a roll-up that forgets the old parent',
    hooks: count(ALL, `rows.map(r => r.now?.request)`),
    finds: ['roll-up-forgets'],
  },
  {
    what: 'a roll-up of records that never move',
    hooks: count(`'create', 'delete'`, `rows.map(r => r.now?.request)`),
    finds: [],
  },
  {
    what: 'a roll-up that does not hear of a move',
    hooks: count(ALL, `rows.flatMap(r => [r.now?.request, r.was?.request])`, `watch: ['packets'],`),
    finds: ['roll-up-forgets'],
  },
  {
    what: 'children that are added up by hand',
    hooks: `{ table: 'germination_test', moment: 'after-save', finish({ rows, store, update }) { for (const [id, tests] of store.children('germination_test', 'lot', rows.map(r => r.now.lot), ['mean_pct'])) update('lot', id, { viability_pct: Math.max(...tests.map(each => each.mean_pct ?? 0)) }) } }`,
    finds: ['roll-up-forgets'],
  },
  {
    what: 'a roll-up to the record itself is no matter of its children',
    hooks: `{ table: 'request', moment: 'before-save', load: ({ rows, store }) => store.rollup('request_line', 'request', rows.map(r => r.id), { count: true }), each(row, lines) { row.now.line_count = lines.get(row.id)!.count } }`,
    finds: [],
  },
  {
    what: 'a roll-up that is left at creates on purpose',
    hooks: count(`'create'`, `\n// on purpose: only ever grows\nrows.map(r => r.now.request)`).replace(
      'store.rollup',
      '\n// on purpose: lines are never removed\nstore.rollup',
    ),
    finds: [],
  },
  // Trees
  {
    what: 'pushed down a tree, with another value at each step',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['bay'], load: ({ rows, store }) => store.children('lot', 'parent', rows.map(r => r.id), []), each(row, below, { update }) { for (const lot of below.get(row.id) ?? []) update('lot', lot.id, { bay: row.now.bay + '/' }) } }`,
    finds: [],
  },
  {
    what: 'the same, asked in finish by a list of ids',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['bay'], finish({ rows, store, update }) { const ids = new Set(rows.map(({ id }) => id)); for (const [, lots] of store.children('lot', 'parent', [...ids], [])) for (const lot of lots) update('lot', lot.id, { bay: 'x' + lot.id }) } }`,
    finds: [],
  },
  {
    what: 'up a tree again and again',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['bay'], each(row, _, { update }) { if (row.now.parent) update('lot', row.now.parent, { bay: row.now.bay + '+' }) } }`,
    finds: ['ripple-cycle'],
  },
  {
    what: 'siblings that wake each other',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['bay'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), []), each(row, lots, { update }) { for (const lot of lots.get(row.now.collection) ?? []) if (lot.id !== row.id) update('lot', lot.id, { bay: row.now.bay + '!' }) } }`,
    finds: ['ripple-cycle'],
  },
  {
    what: 'siblings that sleep for their own ripples',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['bay'], ripples: 'others', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now.collection), []), each(row, lots, { update }) { for (const lot of lots.get(row.now.collection) ?? []) if (lot.id !== row.id) update('lot', lot.id, { bay: row.now.bay + '!' }) } }`,
    finds: [],
  },
  {
    what: 'a circle of two hooks, of which one hears typed rows only',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['bay'], each(row, _, { update }) { if (row.now.collection) update('collection', row.now.collection, { label: 'from ' + row.now.bay }) } }\n---\n{ table: 'collection', moment: 'after-save', ripples: 'none', watch: ['label'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.id), []), each(row, lots, { update }) { for (const lot of lots.get(row.id) ?? []) update('lot', lot.id, { bay: row.now.label + '!' }) } }`,
    finds: [],
  },
  // Watched and set
  {
    what: 'a watched text that is trimmed',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['bay'], each(row) { row.now.bay = row.now.bay === null ? null : row.now.bay.trim() } }`,
    finds: [],
  },
  {
    what: 'a watched code in capitals',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['bay'], each({ now }) { now.bay = now.bay?.toUpperCase() ?? null } }`,
    finds: [],
  },
  // What always is there
  {
    what: 'an entry of a roll-up for the row itself',
    hooks: `{ table: 'collection', moment: 'before-save', load: ({ rows, store }) => ({ lots: store.rollup('lot', 'collection', rows.map(r => r.id), { count: true }) }), each(row, { lots }) { row.now.label = String(lots.get(row.id)!.count) } }`,
    finds: [],
  },
  {
    what: 'an entry of a roll-up through a link may be missing',
    hooks: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.rollup('lot', 'collection', rows.map(r => r.now.collection), { count: true }), each(row, lots) { row.now.bay ??= String(lots.get(row.now.collection)!.count) } }`,
    finds: ['link-may-be-null'],
  },
  // Order
  {
    what: 'a mass read before it is computed',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { if ((row.now.net_mass_g ?? 0) > 100) row.refuse('net_mass_g', 'too much') } }\n---\n{ table: 'lot', moment: 'before-save', each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }`,
    finds: ['reads-before-set'],
  },
  {
    what: 'the same, said to come after',
    hooks: `{ table: 'lot', moment: 'before-save', after: ['hook-2'], each(row) { if ((row.now.net_mass_g ?? 0) > 100) row.refuse('net_mass_g', 'too much') } }\n---\n{ table: 'lot', moment: 'before-save', each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }`,
    finds: [],
  },
  {
    what: 'said to come before, though it reads what comes',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { if (row.now.status === 'stored') row.refuse('bay', 'needs a bay') } }\n---\n{ table: 'lot', moment: 'before-save', after: ['hook-1'], each(row) { row.now.status ??= 'drying' } }`,
    finds: ['reads-before-set'],
  },
  {
    what: 'of other moments there is no order to give',
    hooks: `{ table: 'lot', moment: 'before-commit', each(row) { if ((row.now.net_mass_g ?? 0) > 100) row.refuse('net_mass_g', 'too much') } }\n---\n{ table: 'lot', moment: 'before-save', each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }`,
    finds: [],
  },
  // The store
  {
    what: 'the store handed on to each',
    hooks: `{ table: 'lot', moment: 'before-save', load: ({ store }) => ({ store }), each(row, { store }) { row.now.bay ??= store.byId('species', [row.now.species], ['name']).get(row.now.species)?.name ?? null } }`,
    finds: ['store-leaves-load', 'store-leaves-load'],
  },
  {
    what: 'a function over the store handed on to each',
    hooks: `{ table: 'lot', moment: 'before-save', load: ({ store }) => (id) => store.byId('species', [id], ['name']).get(id), each(row, speciesOf) { row.now.bay ??= speciesOf(row.now.species)?.name ?? null } }`,
    finds: ['store-leaves-load'],
  },
  {
    what: 'a function over the store that load calls itself',
    hooks: `{ table: 'lot', moment: 'before-save', load({ rows, store }) { const species = (ids: any) => store.byId('species', ids, ['name']); return species(rows.map(r => r.now.species)) }, each(row, found) { row.now.bay ??= found.get(row.now.species)?.name ?? null } }`,
    finds: [],
  },
  // Zero
  {
    what: 'a tare of 0 taken for none',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.tare_mass_g ||= 5 } }`,
    finds: ['zero-is-a-value'],
  },
  {
    what: 'a yes/no that can never be no',
    hooks: `{ table: 'germination_test', moment: 'before-save', each(row) { row.now.within_tolerance = row.now.within_tolerance || true } }`,
    finds: ['zero-is-a-value'],
  },
  {
    what: 'a count that is at least one',
    hooks: `{ table: 'request_line', moment: 'before-save', each(row) { row.now.packets ||= 1 } }`,
    finds: [],
  },
  {
    what: 'empty text taken for none',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay ||= 'A1' } }`,
    finds: [],
  },
  {
    what: '0 in place of nothing in a formula',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.net_mass_g = (row.now.gross_mass_g || 0) - (row.now.tare_mass_g || 0) } }`,
    finds: [],
  },
  // Kept outside
  { what: 'a count at the top', hooks: module('let n = 0', `row.now.bay ??= 'B' + n++`), finds: ['kept-in-module'] },
  {
    what: 'a list at the top that grows',
    hooks: module(
      'const seen: string[] = []',
      `if (row.now.bay && seen.includes(row.now.bay)) row.refuse('bay', 'twice'); seen.push(row.now.bay!)`,
    ),
    finds: ['kept-in-module'],
  },
  {
    what: 'a cache at the top',
    hooks: module(
      'const cache = new Map()',
      `if (!cache.has(row.now.bay)) cache.set(row.now.bay, row.now.bay?.trim()); row.now.bay = cache.get(row.now.bay)`,
    ),
    finds: ['kept-in-module'],
  },
  {
    what: 'a table at the top that is read',
    hooks: module(`const NEXT: Record<string, string> = { A: 'B' }`, `row.now.bay ??= NEXT[row.now.status ?? 'A'] ?? null`),
    finds: [],
  },
  {
    what: 'a local list of the same name',
    hooks: module(`const bays = ['A']`, `{ const bays: string[] = []; bays.push('x'); row.now.bay ??= bays[0] ?? null }`),
    finds: [],
  },
  {
    what: 'a condition that only the record itself fulfils, by a loop',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['bay', 'collection'], finish({ rows, update }) { for (const row of rows) if (row.now.collection !== null) update('lot', { collection: row.now.collection, id: row.id }, { bay: row.now.bay }) } }`,
    finds: ['sibling-not-itself'],
  },
  {
    what: 'a condition that only the record itself fulfils, by a Map',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['handling_notes', 'collection'], finish({ rows, update }) {
      const last = new Map()
      for (const row of rows) if (row.now.collection !== null) last.set(row.now.collection, row)
      for (const [collection, row] of last) update('lot', { collection, id: row.id }, { handling_notes: row.now.handling_notes })
    } }`,
    finds: ['sibling-not-itself'],
  },
  {
    what: 'siblings by a Map, without the record itself',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['handling_notes', 'collection'], finish({ rows, update }) {
      const last = new Map()
      for (const row of rows) if (row.now.collection !== null) last.set(row.now.collection, row)
      for (const [collection, row] of last) update('lot', { collection, id: { not: row.id } }, { handling_notes: row.now.handling_notes })
    } }`,
    finds: [],
  },
]
