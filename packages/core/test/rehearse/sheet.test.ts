import { expect, test } from 'vitest'
import { makeRuntime } from '../../src/engine/runtime.js'
import { fixtureStore } from '../../src/prove/fixtures/fixture-store.js'
import { makeSheet, type Sheet, type SheetRequest } from '../../src/rehearse/sheet.js'
import { trySave } from '../../src/save/save.js'
import { filesOf, hook, integer, text } from '../world.js'

/** What an effect sheet reports of its rows: no more than is looked at, and nothing less. */

const ROWS = 40
const files = filesOf({
  tables: { tin: { fields: { name: text, count: integer, twice: integer, note: text, place: text } } },
  hooks: {
    twice: hook(`{ table: 'tin', moment: 'before-save', watch: ['count'], each(row) { row.now.twice = row.now.count! * 2 } }`),
    few: hook(`{ table: 'tin', moment: 'before-save', watch: ['count'], only: (row) => row.now.count! % 10 === 3,
      each(row) { row.refuse('note', 'a 3 too many') } }`),
  },
  fixtures: {
    base: {
      tin: Array.from({ length: ROWS }, (_, index) => ({
        id: index + 1,
        name: `t${index}`,
        count: index,
        note: 'n',
        place: 'p',
      })),
    },
  },
})
const { project, program } = makeRuntime(files)
const environment = () => ({ project, program, store: fixtureStore(project, 'base') })
const sheet = (more: Partial<SheetRequest>): Sheet => makeSheet(environment(), { table: 'tin', event: 'create', ...more })

test('values are reported about the fields that are asked for and of those to which anything happened in any row', () => {
  const all = sheet({ event: 'update', values: { count: 3 } })
  expect(Object.keys(all.rows[0]!.now!)).toEqual(['id', 'name', 'count', 'twice', 'note', 'place'])
  const few = sheet({ event: 'update', values: { count: 3 }, show: ['place'] })
  // note was refused, twice was set, count was typed; name is what people call a record.
  expect(few.rows.map(({ now }) => Object.keys(now!).sort())).toEqual(
    few.rows.map(() => ['count', 'id', 'name', 'note', 'place', 'twice']),
  )
  for (const [index, { now, changes }] of few.rows.entries()) {
    expect(all.rows[index]!.now).toMatchObject(now!)
    expect(changes).toEqual(all.rows[index]!.changes)
  }
})

test('what a row was is reported only where it is no more', () => {
  expect(sheet({ event: 'update', touch: ['count'] }).rows.map(({ was }) => was)).toEqual(Array(ROWS).fill(null))
  for (const { was, now, id } of sheet({ event: 'delete', show: ['name'] }).rows)
    expect([now, was]).toEqual([null, expect.objectContaining({ id, name: `t${id - 1}`, count: id - 1 })])
})

test('verdicts that are the same but for the row stand together, and are those of the save', () => {
  const { verdicts, refusals } = sheet({ leaveOut: ['twice'] })
  const store = environment()
  const rows = Array.from({ length: ROWS }, (_, index) => ({
    table: 'tin',
    values: { id: index + 1, name: `t${index}`, count: index, note: 'n', place: 'p' },
  }))
  store.store.run('DELETE FROM "tin"')
  const outcome = trySave(store, rows, { rehearse: true, record: true, partial: true, keepIds: true })
  expect(refusals.map(({ row }) => row)).toEqual([4, 14, 24, 34])
  const flat = verdicts.flatMap(({ ids, ...same }) => ids.map((id) => `${id} ${same.hook} ${same.verdict} ${same.reason}`))
  expect(flat.sort()).toEqual(outcome.verdicts.map((each) => `${each.id} ${each.hook} ${each.verdict} ${each.reason}`).sort())
  const kinds = verdicts.map(({ hook, depth, verdict, reason }) => `${hook} ${depth} ${verdict} ${reason}`)
  expect(new Set(kinds).size).toBe(kinds.length)
})
