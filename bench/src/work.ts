/** The work that every contestant does, and its made-up input: the demo's lots, with three hooks. */

export const SPECIES = 200
export const COLLECTIONS = 1000
export const PARENTS = 1000
export const CHILDREN = 100

export type Row = Record<string, string | number | null>

export const tables = {
  species: { fields: { name: 'string', thousand_seed_mass_g: 'number', default_pack: 'integer' }, links: {} },
  site: { fields: { name: 'string', district: 'string' }, links: {} },
  collection: {
    fields: { number: 'string', district: 'string', site: 'integer', species: 'integer' },
    links: { site: 'site', species: 'species' },
  },
  lot: {
    fields: {
      accession: 'string',
      collection: 'integer',
      species: 'integer',
      gross_mass_g: 'number',
      tare_mass_g: 'number',
      net_mass_g: 'number',
      seed_estimate: 'integer',
      moisture_pct: 'number',
      bay: 'string',
      status: 'string',
      handling_notes: 'string',
      collection_notes: 'string',
      alarm: 'string',
      viability_pct: 'number',
    },
    links: { collection: 'collection', species: 'species' },
  },
} as const

export const columnsOf = (table: keyof typeof tables): string[] => Object.keys(tables[table].fields)

export function masterData(): Record<'species' | 'site' | 'collection', (Row & { id: number })[]> {
  return {
    species: Array.from({ length: SPECIES }, (_, i) => ({
      id: i + 1,
      name: `species ${i}`,
      thousand_seed_mass_g: 0.5 + (i % 40),
      default_pack: 100,
    })),
    site: Array.from({ length: PARENTS }, (_, i) => ({ id: i + 1, name: `site ${i}`, district: 'North Fell' })),
    collection: Array.from({ length: COLLECTIONS }, (_, i) => ({
      id: i + 1,
      number: `HW-${i}`,
      district: null,
      site: (i % PARENTS) + 1,
      species: (i % SPECIES) + 1,
    })),
  }
}

/**
 * What the sites push, in sequence: one takes less than a tenth of a second, in which the machine is quick or slow, so the median counts.
 * Sites begin with North Fell.
 */
export const DISTRICTS = ['East Moor', 'Long Edge', 'Far Strand', 'High Down', 'West Fell', 'Mid Heath', 'Low Vale'] as const

/** Lots as a user types them: what the hooks set is not there. */
export const newLots = (count: number): Row[] =>
  Array.from({ length: count }, (_, i) => ({
    accession: `HV-${i}`,
    collection: (i % COLLECTIONS) + 1,
    gross_mass_g: 20 + (i % 500) / 4,
    tare_mass_g: 5 + (i % 7),
    moisture_pct: 5 + (i % 10) / 10,
    bay: `A${i % 30}`,
    alarm: 'none',
    viability_pct: 50 + (i % 50),
  }))

export const changedLots = (count: number): (Row & { id: number })[] =>
  Array.from({ length: count }, (_, i) => ({ id: i + 1, gross_mass_g: 30 + (i % 500) / 4 }))

/** Collections of the pushing work: each site has CHILDREN of them. */
export const pushedCollections = (): (Row & { id: number })[] =>
  Array.from({ length: PARENTS * CHILDREN }, (_, i) => ({
    id: COLLECTIONS + i + 1,
    number: `HX-${i}`,
    district: 'North Fell',
    site: (i % PARENTS) + 1,
    species: null,
  }))

export const hooks = {
  'a-set': `{ table: 'lot', moment: 'before-save', on: ['create'], only: row => row.now.status === null, each(row) { row.now.status = 'drying' } }`,
  'b-derive': `{ table: 'lot', moment: 'before-save', watch: ['collection', 'gross_mass_g', 'tare_mass_g'],
    load({ rows, store }) {
      const collections = store.byId('collection', rows.map(row => row.now.collection), ['species'])
      return { collections, species: store.byId('species', [...collections.values()].map(each => each.species), ['thousand_seed_mass_g']) }
    },
    each(row, { collections, species }) {
      row.now.species = collections.get(row.now.collection)?.species ?? null
      row.now.net_mass_g = row.now.gross_mass_g - row.now.tare_mass_g
      const mass = species.get(row.now.species)?.thousand_seed_mass_g
      row.now.seed_estimate = mass ? Math.round(row.now.net_mass_g / mass * 1000) : null
    } }`,
  'c-validate': `{ table: 'lot', moment: 'before-save', each(row) { if (row.now.tare_mass_g > row.now.gross_mass_g) row.refuse('tare_mass_g', 'more than gross') } }`,
  'd-push': `{ table: 'site', moment: 'after-save', on: ['update'], watch: ['district'],
    each(row, _, { update }) { update('collection', { site: row.id }, { district: row.now.district }) } }`,
}

export type Phase = 'create' | 'update' | 'push'
export interface Measured {
  /** Milliseconds by phase. */
  ms: Record<Phase, number>
  /** Peak resident memory, in megabytes. */
  peakMb: number
  /** A figure that must be the same for every contestant, so that all did the same work. */
  sum: number
}
export const CHECK_SQL = `SELECT (SELECT sum(seed_estimate) + sum(species) + count(*) FROM lot WHERE status = 'drying') + (SELECT count(*) FROM collection WHERE district = 'Low Vale') AS sum`
