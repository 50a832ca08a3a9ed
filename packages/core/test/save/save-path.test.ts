import { describe, expect, test } from 'vitest'
import { flag, hook, integer, link, number, text, World } from '../world.js'

/** What one save does, station by station (docs/hooks.md). */

const tables = {
  parent: { fields: { name: text, total: number, size: { type: 'string', enum: ['s', 'm', 'l'] } }, required: ['name'] },
  child: {
    fields: {
      parent: link('parent', 'cascade'),
      qty: { type: 'integer', minimum: 0 },
      note: text,
      ok: flag,
      code: { type: 'string', 'x-unique': true },
    },
  },
}

describe('typed values', () => {
  const world = new World({ tables })
  test.each([
    [{ nme: 'x' }, 'save/unknown-field', 'nme', /did you mean name/],
    [{ name: 12 }, 'save/wrong-type', 'name', /takes text, but got the number 12/],
    [{ name: 'a', size: 'xl' }, 'save/wrong-type', 'size', /one of s, m, l/],
    [{ name: 'a', total: 'many' }, 'save/wrong-type', 'total', /a number, but got text "many"/],
  ])('%o is refused', (values, code, field, message) => {
    const { error } = world.try([{ table: 'parent', values: values as never }])
    expect(error).toMatchObject({ code, table: 'parent', field, row: 1 })
    expect(error!.message).toMatch(message)
  })

  test('a table that is not there is named with a hint', () => {
    expect(world.try([{ table: 'parnt', values: {} }]).error).toMatchObject({
      code: 'save/unknown-table',
      message: expect.stringContaining('parent') as string,
    })
  })

  test('a record that is not there', () => {
    expect(world.try([{ table: 'parent', values: { id: 99, name: 'x' } }]).error).toMatchObject({
      code: 'save/not-found',
      row: 1,
    })
  })

  test('one record twice in a save', () => {
    const fresh = new World({ tables })
    fresh.put('parent', { name: 'a' })
    const { error } = fresh.try([
      { table: 'parent', values: { id: 1, name: 'b' } },
      { table: 'parent', values: { id: 1, name: 'c' } },
    ])
    expect(error).toMatchObject({ code: 'save/duplicate-row', row: 2 })
    expect(fresh.all('parent')[0]!['name']).toBe('a')
  })
})

describe('checks on the final values', () => {
  test('required, bounds, unique and links are all listed', () => {
    const world = new World({ tables })
    world.put('child', { code: 'A' })
    const { error } = world.try([
      { table: 'parent', values: { total: 1 } },
      { table: 'child', values: { qty: -1 } },
      { table: 'child', values: { code: 'A' } },
      { table: 'child', values: { parent: 77 } },
      { table: 'child', values: { code: 'B' } },
      { table: 'child', values: { code: 'B' } },
    ])
    expect(error!.refusals!.map((each) => [each.code, each.row, each.field]).sort()).toEqual([
      ['check/bounds', 2, 'qty'],
      ['check/link', 4, 'parent'],
      ['check/required', 1, 'name'],
      ['check/unique', 3, 'code'],
      ['check/unique', 6, 'code'],
    ])
    expect(world.all('child')).toHaveLength(1)
  })

  test('a hook may fill what is required', () => {
    const world = new World({
      tables,
      hooks: { fill: hook(`{ table: 'parent', moment: 'before-save', each(row) { row.now.name ??= 'filled' } }`) },
    })
    expect(world.put('parent', {})[0]).toMatchObject({ name: 'filled' })
  })

  test('two records may trade unique values in one save', () => {
    const world = new World({ tables })
    world.put('child', { code: 'A' }, { code: 'B' })
    world.put('child', { id: 1, code: 'B' }, { id: 2, code: 'A' })
    expect(world.all('child').map((each) => each['code'])).toEqual(['B', 'A'])
  })

  test('fields that are unique together', () => {
    const world = new World({ tables: { t: { fields: { a: text, b: integer }, unique: [['a', 'b']] } } })
    world.put('t', { a: 'x', b: 1 }, { a: 'x', b: 2 }, { a: 'x' }, { a: 'x' })
    expect(world.try([{ table: 't', values: { a: 'x', b: 2 } }]).error).toMatchObject({ code: 'check/unique' })
  })
})

describe('before-save hooks', () => {
  test('run in after order, then by name, each seeing what earlier ones set', () => {
    const step = (letter: string, after = '') =>
      hook(`{ table: 'child', moment: 'before-save', ${after} each(row) { row.now.note = (row.now.note ?? '') + '${letter}' } }`)
    const world = new World({ tables, hooks: { a: step('a', "after: ['c'],"), b: step('b'), c: step('c') } })
    expect(world.put('child', {})[0]!['note']).toBe('bca')
  })

  test('watch compares was with now at that point', () => {
    const world = new World({
      tables,
      hooks: {
        a: hook(
          `{ table: 'child', moment: 'before-save', on: ['update'], watch: ['qty'], each(row) { row.now.note = 'changed' } }`,
        ),
        b: hook(`{ table: 'child', moment: 'before-save', watch: ['note'], each(row) { row.now.ok = true } }`),
      },
    })
    world.put('child', { qty: 1 })
    expect(world.all('child')[0]).toMatchObject({ note: null, ok: null })
    world.put('child', { id: 1, qty: 2 })
    expect(world.all('child')[0]).toMatchObject({ note: 'changed', ok: 1 })
  })

  test('say for every hook and row whether it ran, and why not', () => {
    const world = new World({
      tables,
      project: { users: ['ada', 'bo'] },
      states: { pilot: { pilot: ['bo'] }, off: { off: true } },
      hooks: {
        guard: hook(`{ table: 'child', moment: 'before-save', only: row => row.now.qty === 1, each() {} }`),
        off: hook(`{ table: 'child', moment: 'before-save', each() {} }`),
        pilot: hook(`{ table: 'child', moment: 'before-save', each() {} }`),
        update: hook(`{ table: 'child', moment: 'before-save', on: ['update'], each() {} }`),
        watch: hook(`{ table: 'child', moment: 'before-save', watch: ['note'], each() {} }`),
      },
    })
    const { verdicts } = world.run([{ table: 'child', values: { qty: 2 } }], { user: 'ada' })
    expect(Object.fromEntries(verdicts.map((each) => [each.hook, each.reason]))).toEqual({
      guard: 'only said no: row.now.qty === 1',
      off: 'switched off',
      pilot: 'pilot for bo; the user is ada',
      update: 'runs on update; this is a create',
      watch: 'no value in note',
    })
    expect(world.run([{ table: 'child', values: { qty: 1 } }], { user: 'bo' }).ran).toEqual({ guard: 1, pilot: 1 })
  })

  test('load is called once for a batch, whatever its size', () => {
    const world = new World({
      tables,
      project: { batchSize: 500 },
      hooks: {
        look: hook(
          `{ table: 'child', moment: 'before-save', load: ({ rows, store }) => store.byId('parent', rows.map(r => r.now.parent), ['name']), each(row, parents) { row.now.note = parents.get(row.now.parent)?.name ?? null } }`,
        ),
      },
    })
    world.put('parent', { name: 'p1' }, { name: 'p2' })
    const outcome = world.run(
      Array.from({ length: 1200 }, (_, i) => ({ table: 'child', values: { parent: i % 3 === 0 ? null : (i % 2) + 1 } })),
    )
    expect(outcome.spent.queries).toBe(3)
    expect(outcome.records[1]).toMatchObject({ note: 'p2' })
    expect(outcome.records[0]).toMatchObject({ note: null })
  })

  test('siblings created together are seen in rows, not in the store', () => {
    const world = new World({
      tables,
      hooks: {
        number: hook(`{ table: 'child', moment: 'before-save', on: ['create'],
          load({ rows, store }) { const there = store.children('child', 'parent', rows.map(r => r.now.parent), []); return { there, rows } },
          each(row, { there, rows }) {
            const before = rows.filter(r => r.now.parent === row.now.parent && r.id < row.id).length
            row.now.qty = (there.get(row.now.parent)?.length ?? 0) + before + 1
          } }`),
      },
    })
    world.put('parent', { name: 'p' })
    world.put('child', { parent: 1 }, { parent: 1 })
    world.put('child', { parent: 1 }, { parent: 1 })
    expect(world.all('child').map((each) => each['qty'])).toEqual([1, 2, 3, 4])
  })

  test('became, changed, changes and copiedFrom', () => {
    const world = new World({
      tables,
      hooks: {
        h: hook(`{ table: 'child', moment: 'before-save', each(row) {
        row.now.note = [row.became(c => c.ok === true), row.changed('qty'), row.changes.map(c => c.field + ':' + c.from + '>' + c.to).join(','), row.copiedFrom].join('|') } }`),
      },
    })
    world.put('child', { qty: 1, code: 'A' })
    expect(world.put('child', { id: 1, ok: true, qty: 2 })[0]!['note']).toMatch(/^true\|true\|qty:1>2,ok:null>true\|$/)
    expect(world.put('child', { id: 1, ok: true })[0]!['note']).toBe('false|false||')
    const copy = world.run([{ table: 'child', copyOf: 1, values: { qty: 9 } }]).records[0]!
    expect(copy).toMatchObject({ id: 2, qty: 9, ok: true, code: null })
    expect(copy['note']).toMatch(/\|1$/)
  })

  test('rows spread and list their fields like plain records', () => {
    const world = new World({
      tables,
      hooks: {
        h: hook(
          `{ table: 'parent', moment: 'before-save', each(row) { row.now.name = Object.keys(row.now).join() + JSON.stringify({ ...row.now }) } }`,
        ),
      },
    })
    expect(world.put('parent', { name: 'x', total: 2 })[0]!['name']).toBe(
      'id,name,total,size{"id":1,"name":"x","total":2,"size":null}',
    )
  })
})

describe('all or nothing, or the good rows', () => {
  const refuser = {
    no: hook(
      `{ table: 'child', moment: 'before-save', each(row, _, { next }) { row.now.code = next('n'); if (row.now.qty === 3) row.refuse('qty', 'three is refused') } }`,
    ),
  }
  const source = { tables, hooks: refuser, project: { sequences: { n: { prefix: 'N', digits: 3, start: 1 } }, batchSize: 4 } }
  const rows = Array.from({ length: 10 }, (_, i) => ({ table: 'child', values: { qty: i % 5 } }))

  test('by default nothing is kept and every refusal is listed', () => {
    const world = new World(source)
    const { error } = world.try(rows)
    expect(error).toMatchObject({
      code: 'hook/refused',
      hook: 'no',
      row: 4,
      field: 'qty',
      message: 'three is refused',
      file: 'plugins/p/hooks/no.ts',
      line: 2,
    })
    expect(error!.refusals!.map((each) => each.row)).toEqual([4, 9])
    expect(world.all('child')).toHaveLength(0)
    expect(world.all('ph_save')).toHaveLength(0)
  })

  test('with partial the good rows are kept, and numbers have no gap', () => {
    const world = new World(source)
    const outcome = world.run(rows, { partial: true })
    expect(outcome.refusals.map((each) => each.row)).toEqual([4, 9])
    expect(outcome.records.map((each) => each === null)).toEqual(rows.map((_, i) => i === 3 || i === 8))
    expect(world.all('child').map((each) => each['code'])).toEqual([
      'N001',
      'N002',
      'N003',
      'N004',
      'N005',
      'N006',
      'N007',
      'N008',
    ])
  })

  test('a rollback gives numbers back', () => {
    const world = new World(source)
    world.try(rows)
    expect(world.put('child', { qty: 1 })[0]!['code']).toBe('N001')
  })
})

describe('effects and ripples', () => {
  test('after-save updates are merged and saved through the same path, one level lower', () => {
    const world = new World({
      tables,
      hooks: {
        push: hook(`{ table: 'child', moment: 'after-save', watch: ['qty', 'parent'],
          finish({ rows, store, update }) { for (const [id, sum] of store.rollup('child', 'parent', rows.map(r => r.now.parent), { sum: ['qty'], count: true })) update('parent', id, { total: sum.sum.qty }) } }`),
        size: hook(
          `{ table: 'parent', moment: 'before-save', watch: ['total'], each(row) { row.now.size = (row.now.total ?? 0) > 10 ? 'l' : 's' } }`,
        ),
      },
    })
    world.put('parent', { name: 'p' })
    const outcome = world.run([1, 2, 3].map((qty) => ({ table: 'child', values: { parent: 1, qty } })))
    expect(outcome.spent).toMatchObject({ ripples: 1, rowsWritten: 4 })
    expect(world.all('parent')[0]).toMatchObject({ total: 6, size: 's' })
    world.put('child', { parent: 1, qty: 30 })
    expect(world.all('parent')[0]).toMatchObject({ total: 36, size: 'l' })
    const ripple = outcome.rows.find((row) => row.depth === 1)!
    expect(ripple.changes).toEqual([
      { field: 'total', from: null, to: 6, by: 'push', kind: 'ripple' },
      { field: 'size', from: null, to: 's', by: 'size', kind: 'hook' },
    ])
  })

  test('what a before-save hook makes of an asked value is the hook’s', () => {
    const world = new World({
      tables,
      hooks: {
        push: hook(
          `{ table: 'child', moment: 'after-save', each(row, _, { update }) { update('parent', row.now.parent, { total: row.now.qty, size: 's' }) } }`,
        ),
        size: hook(`{ table: 'parent', moment: 'before-save', on: ['update'], each(row) { row.now.size = 'l' } }`),
      },
    })
    world.put('parent', { name: 'p' })
    const { rows } = world.run([{ table: 'child', values: { parent: 1, qty: 4 } }])
    expect(rows.find((row) => row.depth === 1)!.changes).toEqual([
      { field: 'total', from: null, to: 4, by: 'push', kind: 'ripple' },
      { field: 'size', from: null, to: 'l', by: 'size', kind: 'hook' },
    ])
  })

  test('an effect that changes nothing is neither written nor rippled', () => {
    const world = new World({
      tables,
      hooks: {
        same: hook(
          `{ table: 'child', moment: 'after-save', each(row, _, { update }) { update('child', row.id, { note: 'seen' }) } }`,
        ),
      },
    })
    const outcome = world.run([{ table: 'child', values: {} }])
    expect(outcome.spent).toMatchObject({ ripples: 2, rowsWritten: 2 })
    expect(world.all('ph_history')).toHaveLength(2)
  })

  test('a hook that wakes itself for ever is stopped with the chain', () => {
    const world = new World({
      tables,
      hooks: {
        loop: hook(
          `{ table: 'child', moment: 'after-save', each(row, _, { update }) { update('child', row.id, { qty: (row.now.qty ?? 0) + 1 }) } }`,
        ),
      },
    })
    const { error } = world.try([{ table: 'child', values: { qty: 0 } }])
    expect(error).toMatchObject({ code: 'budget/spent' })
    expect(error!.message).toMatch(/8 ripple depth \(9 spent\); the ripples: loop \(9 times\); child 1 keeps changing in qty$/)
    expect(world.all('child')).toHaveLength(0)
  })

  test('two rows that write different values to one field are reported', () => {
    const world = new World({
      tables,
      hooks: {
        push: hook(
          `{ table: 'child', moment: 'after-save', each(row, _, { update }) { if (row.now.parent) update('parent', row.now.parent, { name: 'from ' + row.now.qty }) } }`,
        ),
      },
    })
    world.put('parent', { name: 'p' })
    const { error } = world.try([
      { table: 'child', values: { parent: 1, qty: 1 } },
      { table: 'child', values: { parent: 1, qty: 2 } },
    ])
    expect(error).toMatchObject({ code: 'effects/conflict', table: 'parent', field: 'name', hook: 'push' })
    expect(error!.message).toMatch(/"from 1" by push for child 1 and to "from 2" by push for child 2/)
    world.put('child', { parent: 1, qty: 1 }, { qty: 2 })
    expect(world.all('parent')[0]!['name']).toBe('from 1')
  })

  test('create, remove and send', () => {
    const world = new World({
      tables,
      hooks: {
        h: hook(
          `{ table: 'parent', moment: 'after-save', each(row, _, { create, remove, send }) { create('child', { parent: row.id, note: 'made' }); if (row.event === 'update') remove('child', 1); send('mail', { to: row.now.name }) } }`,
        ),
      },
    })
    world.put('parent', { name: 'p' })
    expect(world.all('child')).toMatchObject([{ parent: 1, note: 'made' }])
    world.put('parent', { id: 1, name: 'q' })
    expect(world.all('child').map((each) => each['id'])).toEqual([2])
    expect(world.all('ph_outbox').map((each) => JSON.parse(each['payload'] as string) as unknown)).toEqual([
      { to: 'p' },
      { to: 'q' },
    ])
  })
})

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

describe('documents', () => {
  const document = {
    tables: {
      header: { fields: { kind: text, total: integer, state: text } },
      line: { fields: { header: link('header'), qty: integer, kind: text }, required: ['header'] },
    },
    hooks: {
      'header-kind': hook(
        `{ table: 'header', moment: 'before-save', on: ['create'], each(row) { row.now.kind = (row.now.kind ?? '') + '!' } }`,
      ),
      'line-kind': hook(
        `{ table: 'line', moment: 'before-save', load: ({ rows, store }) => store.byId('header', rows.map(r => r.now.header), ['kind']), each(row, headers) { row.now.kind = headers.get(row.now.header)?.kind ?? null } }`,
      ),
      whole: hook(`{ table: 'header', moment: 'before-commit', touchedBy: ['line.header'],
        load: ({ rows, store }) => store.rollup('line', 'header', rows.map(r => r.id), { sum: ['qty'] }),
        each(row, lines) { if ((lines.get(row.id)?.sum.qty ?? 0) > 10) row.refuse('total', 'more than ten in all') } }`),
    },
  }
  const rows = (first: number, second: number) => [
    { table: 'line', values: { header: { ref: 'h' }, qty: first } },
    { table: 'header', values: { kind: 'k' }, as: 'h' },
    { table: 'line', values: { header: { ref: 'h' }, qty: second } },
  ]

  test('lines link to a header of the same save and read its new values', () => {
    const world = new World(document)
    const { records } = world.run(rows(3, 4))
    expect(records.map((each) => each!['kind'])).toEqual(['k!', 'k!', 'k!'])
    expect(records[0]).toMatchObject({ header: records[1]!.id })
  })

  test('the whole document may be refused before commit', () => {
    const world = new World(document)
    expect(world.try(rows(6, 7)).error).toMatchObject({
      code: 'hook/refused',
      table: 'header',
      field: 'total',
      hook: 'whole',
      row: 2,
    })
    expect(world.all('line')).toHaveLength(0)
    world.run(rows(3, 4))
    // A line alone wakes the header's hook.
    const { error, verdicts } = world.try([{ table: 'line', values: { id: 1, qty: 9 } }])
    expect(error).toMatchObject({ table: 'header', id: 1, hook: 'whole' })
    expect(verdicts.find((each) => each.hook === 'whole')).toMatchObject({ table: 'header', id: 1, verdict: 'ran' })
  })

  test('partial drops whole documents', () => {
    const world = new World(document)
    const again = rows(6, 7).map((row) => ({
      ...row,
      values: { ...row.values, ...('header' in row.values ? { header: { ref: 'g' } } : {}) },
      ...(row.as ? { as: 'g' } : {}),
    }))
    const { records, refusals } = world.run([...rows(1, 2), ...again], { partial: true })
    expect(records.map((each) => each !== null)).toEqual([true, true, true, false, false, false])
    expect(refusals.filter((each) => each.code !== 'save/document-refused')).toHaveLength(1)
    expect(refusals.every((each) => records[each.row! - 1] === null)).toBe(true)
    expect(world.all('line')).toHaveLength(2)
  })

  test('an unknown name is an error', () => {
    const world = new World(document)
    expect(world.try([{ table: 'line', values: { header: { ref: 'nobody' } } }]).error).toMatchObject({
      code: 'save/unknown-ref',
      field: 'header',
    })
  })

  test('rows of a table that links to itself are saved parents first', () => {
    const world = new World({
      tables: { node: { fields: { up: link('node'), depth: integer } } },
      hooks: {
        depth: hook(
          `{ table: 'node', moment: 'before-save', load: ({ rows, store }) => store.byId('node', rows.map(r => r.now.up), ['depth']), each(row, ups) { row.now.depth = (ups.get(row.now.up)?.depth ?? 0) + 1 } }`,
        ),
      },
    })
    const { records } = world.run([
      { table: 'node', values: { up: { ref: 'b' } } },
      { table: 'node', values: { up: { ref: 'a' } }, as: 'b' },
      { table: 'node', values: {}, as: 'a' },
    ])
    expect(records.map((each) => each!['depth'])).toEqual([3, 2, 1])
  })
})
