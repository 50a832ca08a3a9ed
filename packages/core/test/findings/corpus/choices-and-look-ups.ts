import type { Entry } from './entry.js'

/** Choices, ids, look-ups. */
export const choicesAndLookUps: Entry[] = [
  // Choices
  {
    what: 'a choice that is none',
    hooks: `{ table: 'lot', moment: 'before-save', each(row: any) { row.now.status = 'quarantined' } }`,
    finds: ['unknown-choice'],
  },
  {
    what: 'compared with a choice that is none',
    hooks: `{ table: 'lot', moment: 'before-save', only: row => (row.now as any).status === 'Stored', each(row) { row.now.bay ??= 'A1' } }`,
    finds: ['unknown-choice'],
  },
  {
    what: 'a choice that is none in an effect',
    hooks: `{ table: 'site', moment: 'after-save', each(row, _, { create }: any) { create('collection', { site: row.id, kind: 'tame' }) } }`,
    finds: ['unknown-choice'],
  },
  {
    what: 'a choice that is none in a condition',
    hooks: `{ table: 'site', moment: 'after-save', load: ({ store }: any) => store.find('lot', { status: 'Stored' }, { fields: ['bay'] }), each(row, found: any, { log }) { log(found.length) } }`,
    finds: ['unknown-choice'],
  },
  {
    what: 'a choice that is none in a ternary',
    hooks: `{ table: 'lot', moment: 'before-save', each(row: any) { row.now.alarm = (row.now.moisture_pct ?? 0) > 8 ? 'high' : 'none' } }`,
    finds: ['unknown-choice'],
  },
  {
    what: 'a choice that is none in switch',
    hooks: `{ table: 'lot', moment: 'before-save', each(row: any) { switch (row.now.status) { case 'storing': row.now.bay ??= 'A1' } } }`,
    finds: ['unknown-choice'],
  },
  {
    what: 'choices that are',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.alarm = row.now.status === 'quarantine' ? 'act' : 'none' } }`,
    finds: [],
  },

  // Ids
  {
    what: 'an id as text in get',
    hooks: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['code']), each(row, found: any) { row.now.handling_notes ??= found.get(String(row.now.species))?.code ?? null } }`,
    finds: ['mixed-ids'],
  },
  {
    what: 'an id as a template',
    hooks: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['code']), each(row, found: any) { row.now.handling_notes ??= found.get(\`\${row.now.species}\`)?.code ?? null } }`,
    finds: ['mixed-ids'],
  },
  {
    what: 'an id compared with text',
    hooks: `{ table: 'lot', moment: 'before-save', only: row => (row.now.species as any) === '7', each(row) { row.now.bay ??= 'A1' } }`,
    finds: ['mixed-ids'],
  },
  {
    what: 'an id as text in the look-up',
    hooks: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }: any) => store.byId('species', rows.map((r: any) => String(r.now.species)), ['code']), each(row, found: any) { row.now.handling_notes ??= found.get(row.now.species)?.code ?? null } }`,
    finds: ['mixed-ids'],
  },
  {
    what: 'an object by id',
    hooks: `{ table: 'lot', moment: 'after-save', each(row, _, { log }) { log('lot ' + String(row.id), \`/lots/\${row.id}\`) } }`,
    finds: [],
  },

  // Look-ups
  {
    what: 'a look-up in a loop',
    hooks: `{ table: 'lot', moment: 'after-save', load({ rows, store }) { const all = []; for (const row of rows) all.push(store.byId('species', [row.now.species], ['code'])); return all }, each(row, all, { log }) { log(all.length) } }`,
    finds: ['look-up-in-loop'],
  },
  {
    what: 'a look-up in map',
    hooks: `{ table: 'lot', moment: 'after-save', load: ({ rows, store }) => rows.map(row => store.byId('species', [row.now.species], ['code'])), each(row, all, { log }) { log(all.length) } }`,
    finds: ['look-up-in-loop'],
  },
  {
    what: 'a look-up in a loop of finish',
    hooks: `{ table: 'lot', moment: 'after-save', finish({ rows, store, log }) { for (const row of rows) log(store.byId('species', [row.now.species], ['code']).size) } }`,
    finds: ['look-up-in-loop'],
  },
  {
    what: 'a look-up in a function that a loop calls',
    hooks: `{ table: 'lot', moment: 'after-save', load({ rows, store }) { const one = (id: number | null) => store.byId('species', [id], ['code']); return rows.map(row => one(row.now.species)) }, each(row, all, { log }) { log(all.length) } }`,
    finds: ['look-up-in-loop'],
  },
  {
    what: 'one look-up over the rows',
    hooks: `{ table: 'lot', moment: 'after-save', load({ rows, store }) { const ids = []; for (const row of rows) ids.push(row.now.species); return store.byId('species', ids, ['code']) }, each(row, all, { log }) { log(all.size) } }`,
    finds: [],
  },
  {
    what: 'every column for one',
    hooks: `{ table: 'lot', moment: 'after-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species)), each(row, found, { log }) { log(found.get(row.now.species)?.code) } }`,
    finds: ['every-column'],
  },
  {
    what: 'every column of children that are only counted',
    hooks: `{ table: 'collection', moment: 'after-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.id)), each(row, found, { log }) { log(found.get(row.id)?.length) } }`,
    finds: ['every-column'],
  },
  {
    what: 'the first of many',
    hooks: `{ table: 'collection', moment: 'after-save', load: ({ store }) => store.find('lot', { status: 'stored' }, { fields: ['bay'] }), each(row, found, { log }) { log(found[0]?.bay) } }`,
    finds: ['first-of-many'],
  },
  {
    what: 'the first of children',
    hooks: `{ table: 'collection', moment: 'after-save', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.id), ['bay']), each(row, found, { log }) { log(found.get(row.id)?.[0]?.bay) } }`,
    finds: ['first-of-many'],
  },
  {
    what: 'limit 1 without an order',
    hooks: `{ table: 'collection', moment: 'after-save', load: ({ store }) => store.find('lot', { status: 'stored' }, { fields: ['bay'], limit: 1 }), each(row, found, { log }) { for (const lot of found) log(lot.bay) } }`,
    finds: ['first-of-many'],
  },
  {
    what: 'limit 1 with an order',
    hooks: `{ table: 'collection', moment: 'after-save', load: ({ store }) => store.find('lot', { status: 'stored' }, { fields: ['bay'], orderBy: '-id', limit: 1 }), each(row, found, { log }) { log(found[0]?.bay) } }`,
    finds: [],
  },
]
