import type { Entry } from './entry.js'

/** Order, circles, time; what never runs and what does nothing. */
export const orderAndNever: Entry[] = [
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
    finds: ['unused-watch'],
  },
  {
    what: 'watch on delete only',
    hooks: `{ table: 'lot', moment: 'after-save', on: ['delete'], watch: ['bay'], each(row, _, { log }) { log(row.id) } }`,
    finds: ['unused-watch'],
  },
  {
    what: 'a refuse that is never reached',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { return; row.refuse('bay', 'no') } }`,
    finds: ['never-reached'],
  },
  {
    what: 'a refuse under a condition that is never true',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { if (false) row.refuse('bay', 'no') } }`,
    finds: ['never-reached'],
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
  {
    what: 'an effect that gives a child what it has',
    hooks: `{ table: 'collection', moment: 'after-save', watch: ['status_note'], load: ({ rows, store }) => store.children('lot', 'collection', rows.map(r => r.id), ['collection_notes']), each(row, lots, { update }) { for (const { id, collection_notes } of lots.get(row.id) ?? []) update('lot', id, { collection_notes }) } }`,
    finds: ['no-effect'],
  },
  {
    what: 'a refuse after an early return for the same',
    hooks: `{ table: 'lot', moment: 'before-save', each({ now, refuse }) { if (!now.bay || now.status === null) return; if (now.status === null) refuse('status', 'needed') } }`,
    finds: ['never-reached'],
  },
  {
    what: 'a refuse in the else of a test that always holds',
    hooks: `{ table: 'lot', moment: 'before-commit', only: row => row.now.status === 'stored' && row.now.bay !== null, each(row) { if (row.now.bay !== null) return; else row.refuse('bay', 'needed') } }`,
    finds: ['never-reached'],
  },
  {
    what: 'a create-only refuse of what was',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['create'], each(row) { if (row.event === 'update') row.refuse('bay', 'it stays') } }`,
    finds: ['never-reached'],
  },
  {
    what: 'a value that was set in between is another value',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { if (row.now.bay === null) { row.now.bay ??= row.now.status; if (row.now.bay !== null) row.now.alarm = 'none' } } }`,
    finds: [],
  },
  {
    what: 'a test within a loop that changes what is tested',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { row.now.viability_pct = 0; for (const step of [1, 2]) { if (row.now.viability_pct === 0) row.now.viability_pct = step; else row.now.alarm = 'watch' } } }`,
    finds: [],
  },
  {
    what: 'a record given to a function that may change it',
    hooks: `import { defineHook } from 'patient-hook'\nfunction fill(now: { bay: string | null }) { now.bay = 'A1' }\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { if (row.now.bay === null) { fill(row.now); if (row.now.bay !== null) row.now.alarm = 'none' } } })`,
    finds: [],
  },
  {
    what: 'caution that can never be needed is no work',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['update'], each(row) { if (row.was === null) return; if (row.was.bay !== row.now.bay) row.now.alarm = 'watch' } }`,
    finds: [],
  },
  {
    what: 'refusals for different values of one field',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['status', 'bay'], each(row) { if (row.now.status === 'drying' && row.now.bay !== null) row.refuse('bay', 'too early'); else if (row.now.status === 'stored' && row.now.bay === null) row.refuse('bay', 'needed'); else if (row.now.status === null) row.refuse('status', 'needed') } }`,
    finds: [],
  },
  {
    what: 'a watched field that is not used',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['bay', 'gross_mass_g', 'tare_mass_g'], each(row) { const { gross_mass_g, tare_mass_g } = row.now; row.now.net_mass_g = (gross_mass_g ?? 0) - (tare_mass_g ?? 0) } }`,
    finds: ['unused-watch'],
  },
  {
    what: 'a watched field that is used by the look-up only',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['species', 'net_mass_g'], load: ({ rows, store }) => store.byId('species', rows.map(r => r.now.species), ['thousand_seed_mass_g']), each(row, found) { const mass = row.now.species === null ? null : found.get(row.now.species)?.thousand_seed_mass_g; row.now.seed_estimate = mass ? Math.round((row.now.net_mass_g ?? 0) / mass * 1000) : null } }`,
    finds: [],
  },
  {
    what: 'watched fields whose change sets something back',
    hooks: `{ table: 'lot', moment: 'before-save', watch: ['moisture_pct', 'status'], only: row => row.now.status === 'drying', each(row) { row.now.next_test_due = null } }`,
    finds: [],
  },
  {
    what: 'watched fields that are refused together',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['update'], watch: ['bay', 'species'], only: row => row.was.status === 'exhausted', each(row) { row.refuse(null, 'nothing changes any more') } }`,
    finds: [],
  },
  {
    what: 'the whole record is given on',
    hooks: `import { defineHook } from 'patient-hook'\nimport { estimate } from '../lib/estimate'\nexport default defineHook({ table: 'lot', moment: 'before-save', watch: ['net_mass_g', 'moisture_pct', 'species'], each(row) { if (row.now.species !== null) row.now.seed_estimate = estimate(row.now) } })`,
    finds: [],
  },
  {
    what: 'a guard that wants no change of what is watched',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['update'], watch: ['bay'], only: row => row.now.bay === row.was.bay, each(row) { row.now.alarm = 'none' } }`,
    finds: ['never-runs'],
  },
  {
    what: 'a copy is a create',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['update'], only: row => row.copiedFrom !== null, each(row) { row.now.bay ??= 'A1' } }`,
    finds: ['never-runs'],
  },
  {
    what: 'a choice copied from a field with other choices',
    hooks: `{ table: 'request_line', moment: 'before-save', watch: ['request'], load: ({ rows, store }) => ({ requests: store.byId('request', rows.map(r => r.now.request), ['purpose']) }), each(row, { requests }) { const from = row.now.request === null ? undefined : requests.get(row.now.request); row.now.care_level ??= (from?.purpose ?? null) as any } }`,
    finds: ['unknown-choice'],
  },
  {
    what: 'a choice copied from a field with the same choices',
    hooks: `{ table: 'request_line', moment: 'before-save', watch: ['request'], load: ({ rows, store }) => ({ requests: store.byId('request', rows.map(r => r.now.request), ['urgency']) }), each(row, { requests }) { const from = row.now.request === null ? undefined : requests.get(row.now.request); row.now.care_level ??= from?.urgency ?? null } }`,
    finds: [],
  },
  {
    what: 'a guard on the empty target, without a watch list',
    hooks: `{ table: 'lot', moment: 'before-save', only: row => row.now.species === null, load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species']), each(row, found) { if (row.now.collection !== null) row.now.species = found.get(row.now.collection)?.species ?? null } }`,
    finds: ['guard-freezes-copy'],
  },
  {
    what: 'a field that a function within may set is not known',
    hooks: `{ table: 'lot', moment: 'before-save', each(row) { const fill = () => { row.now.bay = 'A1' }; if (row.now.bay === null) { fill(); if (row.now.bay !== null) row.now.alarm = 'none' } } }`,
    finds: [],
  },
  {
    what: 'the event of something that is not the row',
    hooks: `{ table: 'lot', moment: 'before-save', on: ['create'], each(row) { let step = { event: 'a' }; if (step.event === 'a') { step = { event: 'b' }; if (step.event === 'b') row.now.alarm = 'watch' } } }`,
    finds: [],
  },
]
