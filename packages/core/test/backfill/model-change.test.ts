import { beforeEach, describe, expect, test } from 'vitest'
import { editOf, newField, type TableEdit } from '../../src/model/table-edit.js'
import { TestEngine } from '../test-engine.js'
import { filesOf, flag, integer, text } from '../world.js'
import { wish } from './backfill-world.js'

/** Backfills whose table changes while they are paused, or before they are undone. */

let engine: TestEngine
beforeEach(() => {
  engine = new TestEngine()
  engine.open(
    Object.fromEntries(
      filesOf({
        tables: { item: { fields: { name: text, kind: text, number: text, size: integer, done: flag } } },
        project: { sequences: { item: { prefix: 'I', digits: 2, start: 1 }, other: { prefix: 'O', digits: 2, start: 1 } } },
      }),
    ),
  )
  engine.save(
    ['a', 'b', 'c', 'd'].map((name, at) => ({ table: 'item', values: { name, kind: at % 2 ? 'odd' : 'even', size: at } })),
  )
})

function change(work: (edit: TableEdit) => void): void {
  const edit = editOf(engine.info().tables.find(({ name }) => name === 'item')!)
  work(edit)
  engine.changeModel({ table: 'item', edit }, true)
}
const rename = (from: string, to: string) => change((edit) => void (edit.fields.find(({ name }) => name === from)!.name = to))
function run(id: number) {
  for (;;) {
    const backfill = engine.stepBackfill(id, 2)
    if (backfill.state !== 'running') return backfill
  }
}
const records = () => engine.list('item', { order: 'id' } as never).records

describe('a paused backfill goes on under new names', () => {
  test('of what it sets, its conditions and its order', () => {
    const id = engine.beginBackfill(wish({ set: { name: 'set' }, where: { kind: { in: ['odd', 'even'] } }, order: ['-size'] }))
    engine.stepBackfill(id, 2)
    engine.holdBackfill(id, 'paused')
    rename('name', 'title')
    rename('kind', 'sort')
    rename('size', 'length')
    engine.holdBackfill(id, 'running')
    expect(run(id)).toMatchObject({ state: 'done', done: 4, figures: { left: 0 } })
    expect(records().map(({ title }) => title)).toEqual(['set', 'set', 'set', 'set'])
  })

  test('of what it numbers, and by what', () => {
    const id = engine.beginBackfill(
      wish({ number: { field: 'number', series: { by: 'kind', of: { odd: 'item', even: 'other' } } } }),
    )
    engine.stepBackfill(id, 2)
    engine.holdBackfill(id, 'paused')
    rename('number', 'code')
    rename('kind', 'sort')
    engine.holdBackfill(id, 'running')
    expect(run(id).state).toBe('done')
    expect(records().map(({ code }) => code)).toEqual(['O01', 'I01', 'O02', 'I02'])
  })
})

describe('a backfill is undone after a change of its table', () => {
  test('a field with another name goes back under that; one that came is none of its business', () => {
    const id = engine.beginBackfill(wish({ set: { name: 'set', kind: 'none' } }))
    run(id)
    rename('name', 'title')
    change((edit) => void edit.fields.push(newField('colour', 'Colour')))
    engine.save([{ table: 'item', values: { id: 2, title: 'mine' } }])
    const undone = run(engine.undoBackfill(id))
    expect(undone).toMatchObject({ state: 'done', figures: { left: 1 } })
    expect(records().map(({ title, kind }) => [title, kind])).toEqual([
      ['a', 'even'],
      ['mine', 'odd'],
      ['c', 'even'],
      ['d', 'odd'],
    ])
    expect(engine.leftInBackfill(undone.id)).toMatchObject(
      [{ id: 2, field: 'title', message: /changed since/ }].map((left) => ({
        ...left,
        message: expect.stringMatching(left.message) as string,
      })),
    )
  })

  test('what cannot go back is named field by field, and the rest goes', () => {
    const id = engine.beginBackfill(wish({ set: { name: 'set', kind: 'none', size: 9 } }))
    run(id)
    change((edit) => {
      edit.fields = edit.fields.filter(({ name }) => name !== 'kind')
      Object.assign(
        edit.fields.find(({ name }) => name === 'size')!,
        { type: 'string' },
      )
    })
    const undone = run(engine.undoBackfill(id))
    expect(records().map(({ name, size }) => [name, size])).toEqual([
      ['a', '9'],
      ['b', '9'],
      ['c', '9'],
      ['d', '9'],
    ])
    const left = engine.leftInBackfill(undone.id)
    expect(
      left
        .filter((each) => each.id === 1)
        .map(({ field, message }) => `${field}: ${message}`)
        .sort(),
    ).toEqual(['kind: the field is gone since', 'size: the type of the field changed since; it keeps its current value'])
  })

  test('renamed twice, and renamed between two parts of the backfill', () => {
    const id = engine.beginBackfill(wish({ set: { name: 'set' } }))
    engine.stepBackfill(id, 2)
    engine.holdBackfill(id, 'paused')
    rename('name', 'title')
    engine.holdBackfill(id, 'running')
    run(id)
    rename('title', 'word')
    expect(run(engine.undoBackfill(id))).toMatchObject({ state: 'done', figures: { left: 0 } })
    expect(records().map(({ word }) => word)).toEqual(['a', 'b', 'c', 'd'])
  })
})
