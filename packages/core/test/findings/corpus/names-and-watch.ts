import type { Entry } from './entry.js'

/** The saved record, names and labels, watch lists. */
export const namesAndWatch: Entry[] = [
  // Writing to the saved record
  {
    what: 'row.now set at after-save',
    hooks: `{ table: 'lot', moment: 'after-save', each(row: any) { row.now.bay = 'A1' } }`,
    finds: ['after-save-own-record'],
  },
  {
    what: 'the same by an alias',
    hooks: `{ table: 'lot', moment: 'after-save', each(row: any) { const now = row.now; now.bay = 'A1' } }`,
    finds: ['after-save-own-record'],
  },
  {
    what: 'the same by a parameter taken apart',
    hooks: `{ table: 'lot', moment: 'after-save', each({ now }: any) { now.bay = 'A1' } }`,
    finds: ['after-save-own-record'],
  },
  {
    what: 'the same by Object.assign',
    hooks: `{ table: 'lot', moment: 'after-save', each(row: any) { Object.assign(row.now, { bay: 'A1' }) } }`,
    finds: ['after-save-own-record'],
  },
  {
    what: 'the same in before-commit',
    hooks: `{ table: 'lot', moment: 'before-commit', each(row: any) { row.now.bay = 'A1' } }`,
    finds: ['after-save-own-record'],
  },
  {
    what: 'update of the own record wakes itself',
    hooks: `{ table: 'lot', moment: 'after-save', on: ['update'], watch: ['bay'], each(row, _, { update }) { update('lot', row.id, { alarm: 'watch' }) } }`,
    finds: ['after-save-own-record'],
  },
  {
    what: 'the same with effects not taken apart',
    hooks: `{ table: 'lot', moment: 'after-save', on: ['update'], watch: ['bay'], each(row, _, effects) { effects.update('lot', row.now.id, { alarm: 'watch' }) } }`,
    finds: ['after-save-own-record'],
  },
  {
    what: 'update of the own record with its id in a variable',
    hooks: `{ table: 'lot', moment: 'after-save', on: ['update'], watch: ['bay'], each({ id }, _, { update }) { update('lot', id, { alarm: 'watch' }) } }`,
    finds: ['after-save-own-record'],
  },
  {
    what: 'update of another record',
    hooks: `{ table: 'lot', moment: 'after-save', on: ['update'], watch: ['bay'], each(row, _, { update }) { if (row.now.collection !== null) update('collection', row.now.collection, { status_note: row.now.bay }) } }`,
    finds: [],
  },
  {
    what: 'setting in before-save is what it is for',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay ??= 'A1' } }`,
    finds: [],
  },

  // Label for name, stray blanks
  {
    what: 'a label in watch',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['Tare mass (g)' as any], each(row) { row.now.bay = 'x' } }`,
    finds: ['label-for-name'],
  },
  {
    what: 'a label in watch, plain',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['Handling notes'], each(row, _, { log }) { log(row.id) } }`,
    finds: ['label-for-name'],
  },
  {
    what: 'a stray blank',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['bay '], each(row, _, { log }) { log(row.id) } }`,
    finds: ['label-for-name'],
  },
  {
    what: 'a stray comma within',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['bay,'], each(row, _, { log }) { log(row.id) } }`,
    finds: ['label-for-name'],
  },
  {
    what: 'a label in changed',
    hooks: `{ table: 'lot', moment: 'after-save', each(row: any, _, { log }) { if (row.changed('Handling notes')) log(row.id) } }`,
    finds: ['label-for-name'],
  },
  {
    what: 'a label in the second place of changed',
    hooks: `{ table: 'lot', moment: 'after-save', each(row: any, _, { log }) { if (row.changed('bay', 'Handling notes')) log(row.id) } }`,
    finds: ['label-for-name'],
  },
  {
    what: 'a label as a computed field',
    hooks: `{ table: 'lot', moment: 'before-save', each(row: any) { row.now['Net mass (g)'] = 1 } }`,
    finds: ['label-for-name'],
  },
  {
    what: 'a label in the fields of a look-up',
    hooks: `{ table: 'lot', moment: 'after-save', load: ({ rows, store }: any) => store.byId('species', rows.map((r: any) => r.now.species), ['Default pack']), each(row, found: any, { log }) { log(found.get(row.now.species)?.default_pack) } }`,
    finds: ['label-for-name'],
  },
  {
    what: 'a label in the conditions of a look-up',
    hooks: `{ table: 'lot', moment: 'after-save', load: ({ store }: any) => store.find('species', { 'Default pack': 50 }, { fields: ['code'] }), each(row, found: any, { log }) { log(found.length) } }`,
    finds: ['label-for-name'],
  },
  {
    what: 'a label in the values of an effect',
    hooks: `{ table: 'site', moment: 'after-save', each(row, _, { create }: any) { create('collection', { site: row.id, 'Status note': 'x' }) } }`,
    finds: ['label-for-name'],
  },
  {
    what: 'a text that happens to be a label',
    hooks: `{ table: 'lot', moment: 'after-save', each(row, _, { send }) { send('Bay', { bay: row.now.bay, Status: 'Handling notes' }) } }`,
    finds: [],
  },

  // Watch lists
  {
    what: 'an input that is not watched',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['gross_mass_g'], each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }`,
    finds: ['watch-misses-input'],
  },
  {
    what: 'the same, taken apart',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['gross_mass_g'], each(row) { const { gross_mass_g, tare_mass_g } = row.now; row.now.net_mass_g = (gross_mass_g ?? 0) - (tare_mass_g ?? 0) } }`,
    finds: ['watch-misses-input'],
  },
  {
    what: 'the same, with a parameter taken apart',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['gross_mass_g'], each({ now }) { now.net_mass_g = (now.gross_mass_g ?? 0) - (now.tare_mass_g ?? 0) } }`,
    finds: ['watch-misses-input'],
  },
  {
    what: 'the same, parameter taken apart to the fields',
    hooks: `{ table: 'request_line', moment: 'before-save', watch: ['packets'], each(row) { const { now: { packets, seeds_per_packet } } = row; row.now.note = String((packets ?? 0) * (seeds_per_packet ?? 0)) } }`,
    finds: ['watch-misses-input'],
  },
  {
    what: 'an input that load reads',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['bay'], load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['default_pack']), each(row, found) { row.now.seed_estimate = (found.get(row.now.species)?.default_pack ?? 0) * 2 } }`,
    finds: ['watch-misses-input'],
  },
  {
    what: 'its own output is watched',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['gross_mass_g', 'net_mass_g'], each(row) { row.now.net_mass_g = row.now.gross_mass_g } }`,
    finds: ['watch-misses-input'],
  },
  {
    what: 'all inputs are watched',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['gross_mass_g', 'tare_mass_g'], each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }`,
    finds: [],
  },
  {
    what: 'no watch at all',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.net_mass_g = (row.now.gross_mass_g ?? 0) - (row.now.tare_mass_g ?? 0) } }`,
    finds: [],
  },
  {
    what: 'a validation may look at more than it watches',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['status'], each(row) { if (row.now.status === 'stored' && row.now.bay === null) row.refuse('bay', 'where is it?') } }`,
    finds: [],
  },
]
