import { describe, expect, test } from 'vitest'
import { hook, link, text, World } from '../world.js'

/** What becomes of records that link to one that is removed. */

describe('deletes', () => {
  const three = (onDelete: string) => ({
    parent: { fields: { name: text } },
    child: { fields: { parent: link('parent', onDelete), note: text } },
  })

  test('refuse names the records that link to it', () => {
    const world = new World({ tables: three('refuse') })
    world.put('parent', { name: 'p' })
    world.put('child', { parent: 1 }, { parent: 1 })
    const { error } = world.try([{ table: 'parent', values: { id: 1 }, remove: true }])
    expect(error).toMatchObject({ code: 'check/linked', message: 'parent 1 is linked from child 1, 2 (field parent)' })
    world.run([
      { table: 'parent', values: { id: 1 }, remove: true },
      ...[1, 2].map((id) => ({ table: 'child', values: { id }, remove: true })),
    ])
    expect(world.all('parent')).toEqual([])
  })

  test('clear empties the link through the save path', () => {
    const world = new World({
      tables: three('clear'),
      hooks: {
        note: hook(
          `{ table: 'child', moment: 'before-save', on: ['update'], watch: ['parent'], each(row) { row.now.note = 'lost ' + row.was.parent } }`,
        ),
      },
    })
    world.put('parent', { name: 'p' })
    world.put('child', { parent: 1 })
    const { rows } = world.run([{ table: 'parent', values: { id: 1 }, remove: true }])
    expect(world.all('child')[0]).toMatchObject({ parent: null, note: 'lost 1' })
    expect(rows.at(-1)!.changes[0]).toMatchObject({ field: 'parent', by: 'link', kind: 'ripple' })
  })

  test('cascade removes children and runs their hooks; hooks may refuse a delete', () => {
    const world = new World({
      tables: three('cascade'),
      hooks: {
        keep: hook(
          `{ table: 'child', moment: 'before-save', on: ['delete'], each(row) { if (row.was.note === 'keep') row.refuse(null, 'kept') } }`,
        ),
      },
    })
    world.put('parent', { name: 'p' }, { name: 'q' })
    world.put('child', { parent: 1 }, { parent: 2, note: 'keep' })
    world.run([{ table: 'parent', values: { id: 1 }, remove: true }])
    expect(world.all('child').map((each) => each['id'])).toEqual([2])
    expect(world.try([{ table: 'parent', values: { id: 2 }, remove: true }]).error).toMatchObject({
      code: 'hook/refused',
      table: 'child',
      id: 2,
      message: 'kept',
    })
    expect(world.all('parent')).toHaveLength(1)
  })
})
