import type { SaveEntry, SaveFigures, SaveStory } from '@patient-hook/contract'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { filesOf, hook, integer, text } from '../../core/test/world.js'
import { App } from './app.js'

/** The log of saves: kept ones, refused ones, those that failed or hung, and what they add up to. */

const files = () =>
  Object.fromEntries(
    filesOf({
      tables: { item: { fields: { name: text, size: integer, double: integer } }, box: { fields: { name: text } } },
      project: { users: ['ada', 'bram'], budgets: { rowsWritten: 10 } },
      hooks: {
        double: hook(`{ table: 'item', moment: 'before-save', watch: ['size'],
          each(row) {
            if (row.now.size === 13) row.refuse('size', 'thirteen is not sold')
            if (row.now.size === 99) throw new Error('not prepared for 99')
            if (row.now.size === 77) while (row.now.name !== 'never') /^(a+)+$/.test('aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaab')
            row.now.double = row.now.size * 2
          } }`),
      },
    }),
  )

let app: App
beforeAll(async () => {
  app = await App.start({ files, limits: { stallMs: 1000, memoryMb: 384 } })
})
afterAll(() => app.end())

const save = (user: string, partial: boolean, ...sizes: number[]) =>
  app.ask('POST', '/saves', { user, partial, rows: sizes.map((size) => ({ table: 'item', values: { name: `s${size}`, size } })) })
const list = async (query = '') => (await app.ask<{ saves: SaveEntry[]; more: boolean }>('GET', `/saves${query}`)).body

test('everything that was saved or not is reported, with who, why and what it cost', async () => {
  await save('ada', false, 1)
  await save('bram', false, 2, 13)
  await save('ada', true, 3, 13, 4)
  await save('ada', false, 99)
  expect((await save('bram', false, 77)).status).toBe(422)
  await save('ada', false, 1, 2, 3, 4, 5, 6, 7, 8, 9)
  await app.save({ table: 'box', values: { name: 'b' } })
  const { saves, more } = await list()
  expect(more).toBe(false)
  expect(saves.map(({ state, user, rows, error }) => [state, user, rows, error?.code ?? null])).toEqual([
    ['kept', 'ada', 1, null],
    ['kept', 'ada', 9, null],
    ['failed', 'bram', 1, 'budget/stopped'],
    ['failed', 'ada', 1, 'hook/threw'],
    ['refused', 'ada', 1, 'hook/refused'],
    ['kept', 'ada', 3, null],
    ['refused', 'bram', 2, 'hook/refused'],
    ['kept', 'ada', 1, null],
  ])
  const [, nine, hung] = saves
  expect(nine).toMatchObject({ budget: 'rowsWritten', share: 0.9, versions: { p: '1.2.3' }, job: null, given: true })
  expect(nine!.spent['rowsWritten']).toBe(9)
  expect(nine!.ms).toBeGreaterThan(0)
  expect(hung!.error).toMatchObject({ hook: 'double', file: 'plugins/p/hooks/double.ts' })
})

test('it is looked through by what became of a save, user, table and hook, page by page', async () => {
  const states = async (query: string) => (await list(query)).saves.map(({ state }) => state)
  expect(await states('?only=kept&table=box')).toEqual(['kept'])
  expect(await states('?only=not-kept&user=bram')).toEqual(['failed', 'refused'])
  expect(await states('?hook=double')).toEqual(['failed', 'failed', 'refused', 'refused'])
  const first = await list('?limit=3')
  const second = await list('?limit=100&offset=3')
  expect([first.more, second.more]).toEqual([true, false])
  expect([...first.saves, ...second.saves]).toEqual((await list()).saves)
})

test('a save is reported with the records that it wrote; one that was not kept with what it was given', async () => {
  const { saves } = await list()
  const kept = saves.find(({ state, rows }) => state === 'kept' && rows === 3)!
  const { body: story } = await app.ask<SaveStory>('GET', `/saves/${kept.id}`)
  expect(story.written).toBe(2)
  expect(story.records.map(({ event, changes }) => [event, changes.map(({ field, by }) => `${field} ${by}`)])).toEqual(
    Array(2).fill(['create', ['name typed', 'size typed', 'double p/double@1.2.3']]),
  )
  expect(story.rows).toHaveLength(3)
  const refused = saves.find(({ state, user }) => state === 'refused' && user === 'bram')!
  const { body: not } = await app.ask<SaveStory>('GET', `/saves/not-kept/${refused.id}`)
  expect(not.rows).toMatchObject([{ values: { size: 2 } }, { values: { size: 13 } }])
  expect(not.save.error!.message).toBe('thirteen is not sold')
  expect((await app.ask('GET', '/saves/not-kept/12345')).status).toBe(404)
  expect((await app.ask('GET', '/saves/12345')).status).toBe(404)
})

test('figures by hour and hook; a budget that came near its limit is highlighted', async () => {
  const { body } = await app.ask<SaveFigures>('GET', '/saves/figures?hours=2')
  const sum = (key: 'saves' | 'notKept') => body.hours.reduce((total, each) => total + each[key], 0)
  expect([sum('saves'), sum('notKept')]).toEqual([4, 4])
  for (const { p50, p95 } of body.hours) expect(p95).toBeGreaterThanOrEqual(p50)
  // Also of the last save, which was a moment ago; what the engine that was ended had not written yet is lost.
  expect(body.hooks.map(({ hook }) => hook)).toEqual(['double'])
  expect(body.hooks[0]!.ran).toBeGreaterThanOrEqual(9)
  expect(body.near.map(({ share }) => share)).toEqual([0.9])
  expect(body.reasons[0]).toMatchObject({ hook: 'double', code: 'hook/refused', message: 'thirteen is not sold', count: 2 })
})

test('the log of what was not kept is bounded', async () => {
  const { live } = app.server.application
  const before = (await list('?only=not-kept&limit=1')).saves[0]!.id
  await Promise.all(Array.from({ length: 1005 }, () => live.save([{ table: 'item', values: { size: 13 } }])))
  const { saves } = await list('?only=not-kept&limit=500&offset=900')
  expect(saves).toHaveLength(100)
  expect(saves.at(-1)!.id).toBe(before + 6)
})
