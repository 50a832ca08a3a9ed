import { expect, test } from 'vitest'
import { projectInfo } from '../../src/engine/calls/project.js'
import { OpenProject } from '../../src/engine/open-project.js'
import { READS } from '../../src/engine/reads.js'
import { filesOf, hook, link, text, World, type Source } from '../world.js'

/** Why a field holds what it holds: across hooks, links and ripples, back to what somebody typed. */

const source: Source = {
  tables: {
    site: { fields: { name: text, district: text } },
    collection: { fields: { site: link('site'), district: text, note: text } },
    lot: { fields: { collection: link('collection'), place: text, label: text, kind: { ...text, default: 'wild' } } },
  },
  hooks: {
    push: hook(`{ table: 'site', moment: 'after-save', watch: ['district'],
      load: ({ rows, store }) => store.children('collection', 'site', rows.map(row => row.id), ['id']),
      each(row, children, { update }) {
        for (const child of children.get(row.id) ?? []) update('collection', child.id, { district: row.now.district })
      } }`),
    place: hook(`{ table: 'lot', moment: 'before-save', watch: ['collection'],
      load: ({ rows, store }) => store.byId('collection', rows.map(row => row.now.collection), ['district']),
      each(row, collections) { row.now.place = collections.get(row.now.collection)?.district ?? null } }`),
    label: hook(`{ table: 'lot', moment: 'before-save', after: ['place'], watch: ['place'],
      each(row) { row.now.label = 'from ' + row.now.place } }`),
  },
  project: { users: ['ada', 'bram'] },
}

function worldOf() {
  const world = new World(source)
  const open = new OpenProject()
  open.runtimes.use(open.runtimes.make(filesOf(source)))
  const { hooks } = projectInfo(open)
  open.close()
  const readable = {
    store: world.store,
    table: (name: string) => world.environment.project.tables.get(name)!,
    count: () => 0,
  }
  const why = (table: string, id: number, field: string, until: number | null = null) =>
    READS.why(readable, table, id, field, until, hooks).steps
  const told = (...of: Parameters<typeof why>) =>
    why(...of).map(({ table, id, field, value, by, user, depth }) => `${table} ${id} ${field} = ${value}: ${by} ${user} ${depth}`)
  return { world, why, told }
}

test('a derived value goes back over a link and a ripple to what was typed', () => {
  const { world, told, why } = worldOf()
  world.run([{ table: 'site', values: { name: 'Fen' } }], { user: 'ada' })
  world.run([{ table: 'collection', values: { site: 1 } }], { user: 'ada' })
  world.run([{ table: 'site', values: { id: 1, district: 'North' } }], { user: 'bram' })
  world.run([{ table: 'lot', values: { collection: 1 } }], { user: 'ada' })
  expect(told('lot', 1, 'label')).toEqual([
    'lot 1 label = from North: p/label@1.2.3 ada 0',
    'lot 1 place = North: p/place@1.2.3 ada 0',
    'collection 1 district = North: p/push@1.2.3 bram 1',
    'site 1 district = North: typed bram 0',
  ])
  const [, place] = why('lot', 1, 'label')
  expect(place!.sources.map(({ table, field, same, changed }) => [table, field, same, changed])).toEqual([
    ['collection', 'district', true, false],
    ['lot', 'collection', false, true],
  ])
  // Another of the things that it looked at may be followed.
  expect(told('lot', 1, 'collection', place!.save)).toEqual(['lot 1 collection = 1: typed ada 0'])
})

test('it is reported as it was after a save, whatever came since', () => {
  const { world, told } = worldOf()
  world.run([{ table: 'site', values: { name: 'Fen' } }])
  world.run([{ table: 'collection', values: { site: 1, district: 'mine' } }], { user: 'ada' })
  world.run([{ table: 'site', values: { id: 1, district: 'North' } }], { user: 'bram' })
  expect(told('collection', 1, 'district')[0]).toBe('collection 1 district = North: p/push@1.2.3 bram 1')
  expect(told('collection', 1, 'district', 2)).toEqual(['collection 1 district = mine: typed ada 0'])
})

test('defaults, cleared links, and records that no save has changed', () => {
  const { world, told } = worldOf()
  world.run([{ table: 'lot', values: { label: 'x' } }], { user: 'ada' })
  expect(told('lot', 1, 'kind')).toEqual(['lot 1 kind = wild: default ada 0'])
  world.store.run(`INSERT INTO site (id, name, district) VALUES (9, 'Moss', 'West')`)
  expect(told('site', 9, 'district')).toEqual(['site 9 district = West: null null 0'])
  expect(() => told('site', 10, 'district')).toThrow(/10/)
  expect(() => told('site', 9, 'dstrict')).toThrow(/district/)
})
