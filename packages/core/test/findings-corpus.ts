/**
 * Small hooks as people write them, with what must be found in each: the names of the rules, nothing more and nothing
 * less. Hooks of one entry are joined by a line of three dashes; the findings are those of all of them.
 */
export interface Entry {
  what: string
  hooks: string
  finds: string[]
}

const copy = (each: string, more = '') =>
  `{ table: 'lot', moment: 'before-save', ${more} watch: ['collection'], load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species', 'status_note']), ${each} }`
const siblings = (each: string, load = `store.children('lot', 'collection', rows.map(r => r.now.collection), ['status'])`) =>
  `{ table: 'lot', moment: 'after-save', on: ['update'], watch: ['handling_notes'], load: ({ rows, store }) => ${load}, ${each} }`

export const CORPUS: Entry[] = [
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

  // Siblings
  {
    what: 'siblings with the record itself',
    hooks: siblings(
      `each(row, found, { update }) { for (const other of found.get(row.now.collection) ?? []) update('lot', other.id, { handling_notes: row.now.handling_notes }) }`,
    ),
    finds: ['sibling-not-itself'],
  },
  {
    what: '"is" where "is not" was meant',
    hooks: siblings(
      `each(row, found, { update }) { for (const other of found.get(row.now.collection) ?? []) if (other.id === row.id) update('lot', other.id, { alarm: 'watch' }) }`,
    ),
    finds: ['sibling-not-itself'],
  },
  {
    what: 'the same in filter',
    hooks: siblings(
      `each(row, found, { update }) { (found.get(row.now.collection) ?? []).filter(other => other.id === row.id).forEach(other => update('lot', other.id, { alarm: 'watch' })) }`,
    ),
    finds: ['sibling-not-itself'],
  },
  {
    what: 'left out with filter',
    hooks: siblings(
      `each(row, found, { update }) { (found.get(row.now.collection) ?? []).filter(other => other.id !== row.id).forEach(other => update('lot', other.id, { alarm: 'watch' })) }`,
    ),
    finds: [],
  },
  {
    what: 'left out with continue',
    hooks: siblings(
      `each(row, found, { update }) { for (const other of found.get(row.now.collection) ?? []) { if (other.id === row.id) continue; update('lot', other.id, { alarm: 'watch' }) } }`,
    ),
    finds: [],
  },
  {
    what: 'left out by the row’s id in a variable',
    hooks: siblings(
      `each({ id, now }, found, { update }) { for (const other of found.get(now.collection) ?? []) if (other.id !== id) update('lot', other.id, { alarm: 'watch' }) }`,
    ),
    finds: [],
  },
  {
    what: 'left out in the look-up',
    hooks: siblings(
      `each(row, found, { update }) { for (const other of found) if (other.collection === row.now.collection) update('lot', other.id, { alarm: 'watch' }) }`,
      `store.find('lot', { collection: { in: rows.map(r => r.now.collection) }, id: { not: rows.map(r => r.id) as any } }, { fields: ['collection'] })`,
    ),
    finds: [],
  },
  {
    what: 'siblings are only counted',
    hooks: `{ table: 'lot', moment: 'before-commit', load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.now?.collection), []), each(row, found) { if ((found.get(row.now.collection)?.length ?? 0) > 99) row.refuse('collection', 'too many') } }`,
    finds: [],
  },

  // Links that may be empty
  {
    what: 'a link read without thinking of null',
    hooks: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['code']), each(row, found) { row.now.handling_notes ??= found.get(row.now.species)!.code } }`,
    finds: ['link-may-be-null'],
  },
  {
    what: 'the same, by a variable',
    hooks: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['code']), each(row, found: any) { const species = found.get(row.now.species); row.now.handling_notes ??= species.code } }`,
    finds: ['link-may-be-null'],
  },
  {
    what: 'the same, forced',
    hooks: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['code']), each(row, found) { const species = found.get(row.now.species)!; row.now.handling_notes ??= species.code } }`,
    finds: ['link-may-be-null'],
  },
  {
    what: 'a variable that is tested first',
    hooks: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['code']), each(row, found) { const species = found.get(row.now.species); if (!species) return; row.now.handling_notes ??= species.code } }`,
    finds: [],
  },
  {
    what: 'a variable that is tested around',
    hooks: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['code']), each(row, found) { const species = found.get(row.now.species); if (species) row.now.handling_notes ??= species.code } }`,
    finds: [],
  },
  {
    what: 'with ?.',
    hooks: `{ table: 'lot', moment: 'before-save', load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['code']), each(row, found) { row.now.handling_notes ??= found.get(row.now.species)?.code ?? null } }`,
    finds: [],
  },

  // Typed values, frozen copies
  {
    what: 'a copy over what was typed',
    hooks: copy(`each(row, found) { row.now.species = found.get(row.now.collection)?.species ?? null }`),
    finds: ['overwrites-typed'],
  },
  {
    what: 'the same by a variable',
    hooks: copy(`each(row, found) { const from = found.get(row.now.collection); row.now.species = from ? from.species : null }`),
    finds: ['overwrites-typed'],
  },
  {
    what: 'the same with an alias',
    hooks: copy(`each({ now }, found) { now.species = found.get(now.collection)?.species ?? null }`),
    finds: ['overwrites-typed'],
  },
  {
    what: 'filled only when empty',
    hooks: copy(`each(row, found) { row.now.species ??= found.get(row.now.collection)?.species ?? null }`),
    finds: [],
  },
  {
    what: 'filled only when empty, by a test',
    hooks: copy(
      `each(row, found) { if (row.now.species === null) row.now.species = found.get(row.now.collection)?.species ?? null }`,
    ),
    finds: [],
  },
  {
    what: 'filled only when empty, by an early return',
    hooks: copy(
      `each(row, found) { if (row.now.species !== null) return; row.now.species = found.get(row.now.collection)?.species ?? null }`,
    ),
    finds: [],
  },
  {
    what: 'said to be on purpose',
    hooks: copy(
      `each(row, found) {\n// on purpose: the collection decides\nrow.now.species = found.get(row.now.collection)?.species ?? null }`,
    ),
    finds: [],
  },
  {
    what: 'a guard that freezes the copy',
    hooks: copy(
      `only: row => row.now.species === null, each(row, found) { row.now.species = found.get(row.now.collection)?.species ?? null }`,
    ),
    finds: ['guard-freezes-copy'],
  },
  {
    what: 'the same with !',
    hooks: copy(
      `only: row => !row.now.species, each(row, found) { row.now.species = found.get(row.now.collection)?.species ?? null }`,
    ),
    finds: ['guard-freezes-copy'],
  },
  {
    what: 'the same with a parameter taken apart',
    hooks: copy(
      `only: ({ now }) => now.species === null, each({ now }, found) { now.species = found.get(now.collection)?.species ?? null }`,
    ),
    finds: ['guard-freezes-copy'],
  },
  {
    what: 'a default for what was left empty',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['create', 'update'], watch: ['species'], only: row => row.now.seed_estimate === null, load: ({ rows, store }) => store.byId('species', rows.map(row => row.now.species), ['default_pack']), each(row, found) { row.now.seed_estimate = found.get(row.now.species)?.default_pack ?? null } }`,
    finds: [],
  },
  {
    what: 'a guard on create only',
    hooks: copy(
      `only: row => row.now.species === null, each(row, found) { row.now.species = found.get(row.now.collection)?.species ?? null }`,
      `on: ['create'],`,
    ),
    finds: [],
  },

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

  // Order, circles, time
  {
    what: 'two writers without an order',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay = 'A1' } }\n---\n{ table: 'lot', moment: 'before-save', each(row) { row.now.bay = 'B1' } }`,
    finds: ['two-writers'],
  },
  {
    what: 'two writers with an order',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay = 'A1' } }\n---\n{ table: 'lot', moment: 'before-save', after: ['hook-1'], each(row) { row.now.bay = 'B1' } }`,
    finds: [],
  },
  {
    what: 'two writers of different events',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['create'], each(row) { row.now.bay = 'A1' } }\n---\n{ table: 'lot', moment: 'before-save', on: ['update'], each(row) { row.now.bay = 'B1' } }`,
    finds: [],
  },
  {
    what: 'two writers, one by an alias',
    hooks: `{ table: 'lot', moment: 'before-save', each({ now }) { now.bay = 'A1' } }\n---\n{ table: 'lot', moment: 'before-save', each(row) { Object.assign(row.now, { bay: 'B1' }) } }`,
    finds: ['two-writers'],
  },
  {
    what: 'a circle of two tables',
    hooks: `{ table: 'site', moment: 'after-save', on: ['update'], load: ({ rows, store }) => store.children('collection', 'site', rows.map(r => r.id), []), each(row, found, { update }) { for (const one of found.get(row.id) ?? []) update('collection', one.id, { district: row.now.district }) } }\n---\n{ table: 'collection', moment: 'after-save', on: ['update'], each(row, _, { update }) { if (row.now.site !== null) update('site', row.now.site, { district: row.now.district + '!' }) } }`,
    finds: ['ripple-cycle', 'ripple-cycle'],
  },
  {
    what: 'a circle that comes to rest, since it only passes a value on',
    hooks: `{ table: 'site', moment: 'after-save', on: ['update'], load: ({ rows, store }) => store.children('collection', 'site', rows.map(r => r.id), []), each(row, found, { update }) { for (const one of found.get(row.id) ?? []) update('collection', one.id, { district: row.now.district }) } }\n---\n{ table: 'collection', moment: 'after-save', on: ['update'], each(row, _, { update }) { if (row.now.site !== null) update('site', row.now.site, { district: row.now.district }) } }`,
    finds: [],
  },
  {
    what: 'a circle that watch lists break',
    hooks: `{ table: 'site', moment: 'after-save', on: ['update'], watch: ['district'], load: ({ rows, store }) => store.children('collection', 'site', rows.map(r => r.id), []), each(row, found, { update }) { for (const one of found.get(row.id) ?? []) update('collection', one.id, { district: row.now.district }) } }\n---\n{ table: 'collection', moment: 'after-save', on: ['update'], watch: ['district'], each(row, _, { update }) { if (row.now.site !== null) update('site', row.now.site, { status: 'open' } as any) } }`,
    finds: [],
  },
  {
    what: 'the machine’s clock',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.next_test_due = new Date().toISOString().slice(0, 10) } }`,
    finds: ['clock-or-chance'],
  },
  {
    what: 'the clock of the save',
    hooks: `{ table: 'lot', moment: 'before-save', each(row, _, { clock }) { row.now.next_test_due = new Date(clock).toISOString().slice(0, 10) } }`,
    finds: [],
  },
  {
    what: 'chance',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay ??= 'A' + Math.floor(Math.random() * 30) } }`,
    finds: ['clock-or-chance'],
  },
  {
    what: 'Date() without new',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.handling_notes ??= Date() } }`,
    finds: ['clock-or-chance'],
  },

  // Never, and nothing
  {
    what: 'an impossible guard',
    hooks: `{ table: 'lot', moment: 'before-save', only: row => row.now.status === 'stored' && row.now.status === 'drying', each(row) { row.now.bay ??= 'A1' } }`,
    finds: ['never-runs'],
  },
  {
    what: 'an impossible guard with null',
    hooks: `{ table: 'lot', moment: 'before-save', only: row => row.now.bay === null && row.now.bay === 'A1', each(row) { row.now.handling_notes ??= 'x' } }`,
    finds: ['never-runs'],
  },
  {
    what: 'an event it does not run on',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['create'], only: (row: any) => row.event === 'update', each(row) { row.now.bay ??= 'A1' } }`,
    finds: ['never-runs'],
  },
  {
    what: 'was on create',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['create'], only: row => row.was !== null, each(row) { row.now.bay ??= 'A1' } }`,
    finds: ['never-runs'],
  },
  {
    what: 'a watched field that must be empty on create',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['create'], watch: ['species'], only: row => row.now.species === null, each(row) { row.now.bay ??= 'A1' } }`,
    finds: ['never-runs'],
  },
  {
    what: 'a guard that is always false',
    hooks: `{ table: 'lot', moment: 'before-save', only: () => false, each(row) { row.now.bay ??= 'A1' } }`,
    finds: ['never-runs'],
  },
  {
    what: 'a field watched twice',
    hooks: `{ table: 'lot', moment: 'after-save', watch: ['bay', 'bay'], each(row, _, { log }) { log(row.id) } }`,
    finds: ['no-effect'],
  },
  {
    what: 'watch on delete only',
    hooks: `{ table: 'lot', moment: 'after-save', on: ['delete'], watch: ['bay'], each(row, _, { log }) { log(row.id) } }`,
    finds: ['no-effect'],
  },
  {
    what: 'a refuse that is never reached',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { return; row.refuse('bay', 'no') } }`,
    finds: ['no-effect'],
  },
  {
    what: 'a refuse under a condition that is never true',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { if (false) row.refuse('bay', 'no') } }`,
    finds: ['no-effect'],
  },
  {
    what: 'a field set to itself',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.bay = row.now.bay } }`,
    finds: ['no-effect'],
  },
  {
    what: 'an effect that sets what is there',
    hooks: `{ table: 'lot', moment: 'after-save', each(row, _, { update }) { update('lot', row.id, { bay: row.now.bay }) } }`,
    finds: ['after-save-own-record', 'no-effect'],
  },
]
