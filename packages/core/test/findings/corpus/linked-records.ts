import { copy, siblings, type Entry } from './entry.js'

/** Siblings, links that may be empty, what was typed, frozen copies. */
const byLink = (body: string, more = '') =>
  `{ table: 'lot', moment: 'after-save', watch: ['bay'], ${more} each(row, _, { update }) { ${body} } }`

export const linkedRecords: Entry[] = [
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
  {
    what: 'siblings by a link that may be empty',
    hooks: byLink(`update('lot', { species: row.now.species, id: { not: row.id } }, { bay: row.now.bay })`),
    finds: ['empty-link-condition'],
  },
  {
    what: 'the same, where something else was asked',
    hooks: byLink(
      `if (row.now.bay === null) return; update('lot', { species: row.now.species, id: { not: row.id } }, { bay: row.now.bay })`,
    ),
    finds: ['empty-link-condition'],
  },
  {
    what: 'the same, where there is none',
    hooks: byLink(
      `if (row.now.species !== null) return; update('lot', { species: row.now.species, id: { not: row.id } }, { bay: row.now.bay })`,
    ),
    finds: ['empty-link-condition'],
  },
  {
    what: 'siblings by a link that is there',
    hooks: byLink(
      `if (row.now.species === null) return; update('lot', { species: row.now.species, id: { not: row.id } }, { bay: row.now.bay })`,
    ),
    finds: [],
  },
  {
    what: 'siblings by a link, where there is one',
    hooks: byLink(
      `if (row.now.bay !== null && row.now.species) update('lot', { species: row.now.species, id: { not: row.id } }, { bay: row.now.bay })`,
    ),
    finds: [],
  },
  {
    what: 'siblings by a link that the guard has asked for',
    hooks: byLink(
      `update('lot', { species: row.now.species, id: { not: row.id } }, { bay: row.now.bay })`,
      `only: row => row.now.species !== null,`,
    ),
    finds: [],
  },
  {
    what: 'siblings by a link, empty ones on purpose',
    hooks: byLink(
      `\n// those without a species too, on purpose\nupdate('lot', { species: row.now.species, id: { not: row.id } }, { bay: row.now.bay })`,
    ),
    finds: [],
  },
]
