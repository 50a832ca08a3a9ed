import { copy, type Entry } from './entry.js'

/** Rows of a batch, lists, modules of the plugin. */
export const batchesAndModules: Entry[] = [
  {
    what: 'an update of the own records in finish',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['bay'], finish({ rows, update }) { for (const row of rows) update('lot', row.id, { alarm: 'watch' }) } }`,
    finds: ['after-save-own-record'],
  },
  {
    what: 'the same with the id removed from filtered rows',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['bay'], finish({ rows, update }) { rows.filter(row => row.now.bay !== null).forEach(({ id }) => update('lot', id, { alarm: 'watch' })) } }`,
    finds: ['after-save-own-record'],
  },
  {
    what: 'a row of finish and a found record of the same name',
    hooks: `{ table: 'collection', moment: 'after-save', watch: ['label'], finish({ rows, store, update }) { const ids = rows.map(r => r.id); for (const [, found] of store.children('lot', 'collection', ids, ['bay'])) for (const r of found) update('collection', r.id, { status_note: r.bay }) } }`,
    finds: [],
  },
  {
    what: 'a found record taken apart',
    hooks: copy(`each(row, found) { const { species } = found.get(row.now.collection!)!; row.now.species ??= species }`),
    finds: ['link-may-be-null'],
  },
  {
    what: 'a copy by Object.assign',
    hooks: copy(
      `each(row, found) { const from = found.get(row.now.collection!); if (from) Object.assign(row.now, { species: from.species }) }`,
    ),
    finds: ['overwrites-typed'],
  },
  {
    what: 'a copy that keeps what is there only when the source is empty',
    hooks: copy(`each(row, found) { row.now.species = found.get(row.now.collection!)?.species || row.now.species }`),
    finds: ['overwrites-typed'],
  },
  {
    what: 'a count is derived, not copied',
    hooks: `{ table: 'request', moment: 'before-save', load: ({ rows, store }) => ({ lines: store.children('request_line', 'request', rows.map(r => r.id), []) }), each(row, { lines }) { row.now.line_count = (lines.get(row.id) ?? []).length } }`,
    finds: [],
  },
  {
    what: 'the store given away in a loop',
    hooks: `import { defineHook } from 'patient-hook'\nimport { nameOf } from '../lib/names'\nexport default defineHook({ table: 'lot', moment: 'before-save', on: ['create'], load: ({ rows, store }) => rows.map(r => nameOf(store, r.now.species)), each(row, names) { row.now.bay ??= names.join() } })`,
    finds: ['look-up-in-loop'],
  },
  {
    what: 'the store given away once',
    hooks: `import { defineHook } from 'patient-hook'\nimport { namesOf } from '../lib/names'\nexport default defineHook({ table: 'lot', moment: 'before-save', on: ['create'], load: ({ rows, store }) => namesOf(store, rows.map(r => r.now.species)), each(row, names) { row.now.bay ??= names.join() } })`,
    finds: [],
  },
  {
    what: 'the first that fits, without an order',
    hooks: `{ table: 'collection', moment: 'before-save', on: ['update'], load: ({ rows, store }) => store.find('lot', { collection: { in: rows.map(r => r.id) } }, { fields: ['collection', 'bay'] }), each(row, lots) { row.now.label ??= lots.find(lot => lot.collection === row.id)?.bay ?? null } }`,
    finds: ['first-of-many'],
  },
  {
    what: 'the one with an id',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['update'], load: ({ rows, store }) => store.find('collection', { id: { in: rows.map(r => r.now.collection) } }, { fields: ['status_note'] }), each(row, found) { row.now.collection_notes ??= found.find(({ id }) => id === row.now.collection)?.status_note ?? null } }`,
    finds: [],
  },
  {
    what: 'values pushed on a change of another',
    hooks: `{ table: 'site', moment: 'after-save', watch: ['district'], load: ({ rows, store }) => store.children('collection', 'site', rows.map(r => r.id), []), each({ now, id }, found, { update }) { for (const each of found.get(id) ?? []) update('collection', each.id, { keeper_contact: now.keeper_contact, district: now.district }) } }`,
    finds: ['watch-misses-input'],
  },
  {
    what: 'a message may tell more than what is watched',
    hooks: `{ table: 'site', moment: 'after-save', watch: ['district'], each(row, _, { send }) { send('keepers', { district: row.now.district, contact: row.now.keeper_contact }) } }`,
    finds: [],
  },
  {
    what: 'nothing became of a deleted record',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['delete'], only: row => row.became(now => now.status === 'exhausted'), each(row) { row.refuse(null, 'it stays') } }`,
    finds: ['never-runs'],
  },
  {
    what: 'found records by their id as text',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['create'], load: ({ rows, store }) => { const found = store.find('species', { id: { in: rows.map(r => r.now.species) } }, { fields: ['name'] }); return new Map(found.map(each => { return [\`\${each.id}\`, each] })) }, each(row, found: any) { row.now.bay ??= found.get(row.now.species)?.name ?? null } }`,
    finds: ['mixed-ids'],
  },
]
