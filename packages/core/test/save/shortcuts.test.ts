import ts from 'typescript'
import { describe, expect, test } from 'vitest'
import { onlyReadsRows, writtenFields } from '../../src/sandbox/written-fields.js'
import { hook, integer, link, text, World, type Source } from '../world.js'

/** What the save path leaves out for speed must not be visible in its result. */

function partOf(part: string): ts.Node | undefined {
  const source = ts.createSourceFile('h.ts', `({ ${part} })`, ts.ScriptTarget.ES2022, true)
  let found: ts.Node | undefined
  const look = (node: ts.Node): void => {
    if (!found && ts.isObjectLiteralExpression(node)) found = node.properties[0]
    else ts.forEachChild(node, look)
  }
  look(source)
  return found
}
function writesOf(part: string): string[] | null {
  const fields = writtenFields(partOf(part))
  return fields && [...fields].sort()
}

describe('which fields a function can write', () => {
  test.each([
    ['each(row) {}', []],
    ['each() {}', []],
    ['each(row) { row.now.a = 1; row.now.b ??= row.now.c }', ['a', 'b']],
    ['each({ now }) { now.a++; now["b"] += 2 }', ['a', 'b']],
    ['each({ now: n, was, refuse }) { n.a = was?.b ?? null; refuse("a", "no") }', ['a']],
    ['each: row => { const now = row.now; const { b, ...rest } = now; now.a = b }', ['a']],
    ['each(row) { const { now } = row; if (row.changed("a") && now.x === null) now.x = { ...now }.a }', ['x']],
    ['each(row) { const list = [row.now.a, row.now.b].map(v => v); row.now.c = list.length }', ['c']],
    ['each(row) { if (row.became(r => r.a > 1)) row.now.b = 2 }', ['b']],
    ['each(row, m) { row.now.a = m.get(row.now.k)?.v ?? null; const other = { now: 1 }; void other.now }', ['a']],
    ['only: row => row.now.a === null', []],
    ['each(this: void, row) { row.now.a = 1 }', ['a']],
    ['each: function (this: void, { now }) { now.b = 1 }', ['b']],
  ] as const)('%s', (part, fields) => {
    expect(writesOf(part)).toEqual([...fields])
  })

  test.each([
    'each(row) { Object.assign(row.now, { a: 1 }) }',
    'each(row) { help(row) }',
    'each(row) { const keep = [row.now]; keep[0].a = 1 }',
    'each(row) { const name = "a"; row.now[name] = 1 }',
    'each(row) { [row.now.a, row.now.b] = [1, 2] }',
    'each(row) { ({ x: row.now.a } = { x: 1 }) }',
    'each(row) { for (row.now.a of [1, 2]); }',
    'each(row) { delete row.now.a }',
    'each(row) { row.now.id = 5 }',
    'each(row) { let now = row.now; now = other; now.a = 1 }',
    'each(row) { const set = () => { row.now.a = 1 }; set() }',
    'each(row) { rows.map(row => row.a) }',
    'each(row) { kept = class { a = (row.now.a = 1) } }',
    'each(row) { arguments[0].now.a = 1 }',
    'each(row) { saved = row }',
    'each(row) { return row.now }',
    'each(row) { const r = cond ? row.now : null; r.a = 1 }',
    'each(row) { (row.now || x).a = 1 }',
    'each(row) { row.became(r => { r.a = 1; return true }) }',
    'each(row) { row.became(check) }',
    'each(...rows) { rows[0].now.a = 1 }',
    'each({ ...row }) { row.now.a = 1 }',
    'each(row) { row["now"].a = 1 }',
    'each(row) { with_(() => row) }',
    'each(row) { const o = { row }; o.row.now.a = 1 }',
    'each: shared',
    'each: function (row) { this.x = row.now }',
  ])('unknown: %s', (part) => {
    expect(writesOf(part)).toBeNull()
  })
})

describe('a load that is proved to read its rows only', () => {
  test.each([
    `load: ({ rows, store }) => store.byId('parent', rows.map(row => row.now.parent), ['rate'])`,
    `load({ rows, store }) { const ids = rows.flatMap(({ now, was }) => [now.parent, was?.parent]); return store.byId('parent', ids) }`,
    `load: ({ rows }) => rows.filter(row => row.now.rate !== null && row.changed('rate')).map(row => row.id)`,
    `load: ({ rows: all, store }) => ({ count: all.length, found: store.find('parent', {}) })`,
    `load: ({ store }) => store.find('parent', { rows: 1 })`,
    `load({ rows, store }) { const ids = new Set(); for (const row of rows) if (row.now.parent !== null) ids.add(row.now.parent); return store.byId('parent', [...ids]) }`,
    `load({ rows }) { let sum = 0; for (const { now, was } of rows) sum += now.rate - (was?.rate ?? 0); return sum }`,
    'load: ({ rows }) => { for (const { now: { ...all } } of rows) help(all) }',
    `load({ rows }) { const notes = []; for (let row of rows.filter(row => row.changed('rate'))) { const { note } = row.now; notes.push(note) } return notes }`,
    'load: () => 1',
  ])('%s', (part) => {
    expect(onlyReadsRows(partOf(part))).toBe(true)
  })
  test.each([
    'load: ({ rows }) => rows',
    'load: ({ rows }) => rows.map(row => row)',
    'load: ({ rows }) => rows.map(row => row.now)',
    'load: ({ rows }) => rows.filter(row => row.now.rate)',
    'load: ({ rows }) => rows[0].now.rate',
    'load: ({ rows }) => { rows.forEach(row => { row.now.rate = 1 }) }',
    'load: ({ rows }) => { for (const row of rows) row.now.rate = 1 }',
    'load: ({ rows }) => { const all = []; for (const row of rows) all.push(row); return all }',
    'load: ({ rows }) => { let last; for (const row of rows) last = row.now; return last }',
    'load: ({ rows }) => { let last; for (last of rows) ; return last }',
    'load: ({ rows }) => { for (var row of rows) ; return row }',
    'load: ({ rows }) => { for (let row of rows) row = help(row) }',
    'load: ({ rows }) => { const asks = []; for (const row of rows) asks.push(() => row.now.rate); return asks }',
    'load: ({ rows }) => { for (const [at, row] of rows.entries()) row.now.rate = at }',
    'load: ({ rows }) => () => rows.map(row => row.now.rate)',
    'load: ({ rows }) => function () { for (const row of rows) help(row.now.rate) }',
    'load: ({ rows }) => ({ get sum() { let sum = 0; for (const row of rows) sum += row.now.rate; return sum } })',
    'load: ({ rows }) => class { rates = rows.map(row => row.now.rate) }',
    'load: ({ rows }) => rows.map(row => class { rate = row.now.rate })',
    'load: ({ rows }) => help(rows)',
    'load: ({ rows }) => rows.map(help)',
    'load: ({ rows }) => rows.map((row, at, all) => all)',
    'load: ({ rows }) => rows.map(row => () => row.now.rate)',
    'load: ({ rows }) => rows.reduce((sum, row) => sum + row.now.rate, 0)',
    'load: ({ rows }) => ({ rows })',
    'load: ({ rows = [] }) => rows.length',
    'load: ({ ...all }) => all.rows.length',
    'load: all => all.rows.length',
    'load: function () { return arguments[0].rows }',
    'load: shared',
  ])('not known of %s', (part) => {
    expect(onlyReadsRows(partOf(part))).toBe(false)
  })
})

const tables: Source['tables'] = {
  parent: { fields: { name: text, rate: integer } },
  child: { fields: { parent: link('parent'), rate: integer, note: text, code: { ...text, 'x-unique': true } } },
}

describe('reads of one save', () => {
  test('what byId has read is read again once the table was written', () => {
    const world = new World({
      project: { batchSize: 1 },
      tables,
      hooks: {
        copy: hook(
          `{ table: 'child', moment: 'before-save', load: ({ rows, store }) => store.byId('parent', rows.map(r => r.now.parent), ['rate']), each(row, found) { row.now.rate = found.get(row.now.parent)?.rate ?? null } }`,
        ),
        raise: hook(
          `{ table: 'child', moment: 'after-save', on: ['create'], load: ({ rows, store }) => store.byId('parent', rows.map(r => r.now.parent)), each(row, found, { update }) { update('parent', row.now.parent, { rate: found.get(row.now.parent).rate + 1 }) } }`,
        ),
      },
    })
    world.put('parent', { rate: 10 })
    const { spent } = world.run(Array.from({ length: 4 }, () => ({ table: 'child', values: { parent: 1 } })))
    expect(world.all('child').map((row) => row['rate'])).toEqual([10, 11, 12, 13])
    expect(world.all('parent')[0]).toMatchObject({ rate: 14 })
    expect(spent.queries).toBe(8)
  })

  test('a query is counted, whether its records are known already or not', () => {
    const copy = hook(
      `{ table: 'child', moment: 'before-save', load: ({ rows, store }) => store.byId('parent', rows.map(r => r.now.parent), ['rate']), each(row, found) { row.now.rate = found.get(row.now.parent)?.rate ?? null } }`,
    )
    const world = new World({ project: { batchSize: 2 }, tables, hooks: { copy } })
    world.put('parent', { rate: 10 })
    const { spent } = world.run(Array.from({ length: 6 }, () => ({ table: 'child', values: { parent: 1 } })))
    expect(spent).toMatchObject({ queries: 3, rowsRead: 3 })
  })

  test('children come by id, whatever index SQLite takes', () => {
    const log = hook(
      `{ table: 'parent', moment: 'after-save', load: ({ rows, store }) => store.children('child', 'parent', rows.map(r => r.id)), each(row, found, { log }) { log(found.get(row.id).map(c => c.id).join()) } }`,
    )
    const world = new World({ tables, hooks: { log } })
    world.put('parent', { rate: 1 }, { rate: 1 })
    world.put('child', ...[1, 2, 2, 1, 1, 2].map((parent) => ({ parent })))
    world.store.db.exec('DROP INDEX "child.parent"; CREATE INDEX odd ON child (parent, id DESC)')
    const { logs } = world.run([1, 2].map((id) => ({ table: 'parent', values: { id, rate: 5 } })))
    expect(logs.map((each) => each.text)).toEqual(['1,4,5', '2,3,6'])
  })

  test('a link to a record that went earlier in the same save is found out', () => {
    const world = new World({ project: { batchSize: 1 }, tables })
    world.put('parent', { rate: 1 }, { rate: 2 })
    const outcome = world.try([
      { table: 'child', values: { parent: 1 } },
      { table: 'child', values: { parent: 2 } },
      { table: 'parent', values: { id: 1 }, remove: true },
      { table: 'child', values: { parent: 1 } },
    ])
    expect(outcome.error?.refusals?.map((each) => each.code)).toContain('check/link')
    expect(world.all('child')).toEqual([])
  })
})

describe('a ripple into a table without hooks', () => {
  const push = hook(
    `{ table: 'parent', moment: 'after-save', on: ['update'], load: ({ rows, store }) => store.children('child', 'parent', rows.map(r => r.id), []), each(row, found, { update }) { for (const child of found.get(row.id)) update('child', child.id, row.now.name === 'code' ? { code: 'k' + row.now.rate } : { rate: row.now.rate, parent: row.now.rate === 99 ? 77 : row.id }) } }`,
  )
  const start = () => {
    const world = new World({ tables, hooks: { push } })
    world.put('parent', { rate: 1 }, { rate: 2 })
    world.put('child', { parent: 1, rate: 5, note: 'a', code: 'x' }, { parent: 1, rate: 6, note: 'b' }, { parent: 2, note: 'c' })
    return world
  }

  test.each([
    { id: 1, rate: 6 },
    { id: 1, rate: null },
    { id: 1, rate: 99 },
    { id: 2, rate: 3, name: 'code' },
    { id: 1, rate: 3, name: 'code' },
    { id: 2, rate: 2 },
  ])('does the same recorded, where all fields are read, and not: %o', (values) => {
    const [plain, recorded] = [start(), start()]
    const outcome = (world: World, record: boolean) => {
      const { error, spent } = world.try([{ table: 'parent', values }], { record })
      const history = world.all('ph_history').map(({ patch, cause, tbl }) => ({ patch, cause, tbl }))
      return { error, rows: spent.rowsWritten, child: world.all('child'), history }
    }
    expect(outcome(plain, false)).toEqual(outcome(recorded, true))
  })
})

describe('what is proved of a hook and what is not known of it', () => {
  /** The same hook twice: so that its syntax tells all, and so it does not. */
  const variants = (known: string, unknown: string) =>
    [known, unknown].map((literal) => {
      const world = new World({ tables, hooks: { 'a-rate': hook(literal) } })
      world.put('parent', { rate: 10 }, { rate: 20 })
      return world
    })
  const rows = [
    { parent: 1, note: 'first' },
    { parent: 2, note: 'second', code: 'c' },
    { parent: null, note: 'third' },
  ].map((values) => ({ table: 'child', values }))
  const told = (world: World, partial: boolean) => {
    const { error, refusals, rows: out, verdicts } = world.try(rows, { partial })
    return { error, refusals, out, verdicts, kept: world.all('child') }
  }
  const load = (ids: string) =>
    `{ table: 'child', moment: 'before-save', load: ({ rows, store }) => store.byId('parent', ${ids}, ['rate']), each(row, found) { row.now.rate = found.get(row.now.parent)?.rate ?? null } }`

  test.each([true, false])('load gives the same, partial %s', (partial) => {
    const [known, unknown] = variants(load('rows.map(r => r.now.parent)'), load('[...rows].map(r => r.now.parent)'))
    const first = told(known!, partial)
    expect(first.kept.map((row) => row['rate'])).toEqual([10, 20, null])
    expect(first).toEqual(told(unknown!, partial))
  })
  test.each([true, false])('a wrong value is undone and refused alike, partial %s', (partial) => {
    const each = (write: string) =>
      `{ table: 'child', moment: 'before-save', each(row) { ${write}; if (row.now.parent === 2) throw new Error('no') } }`
    const value = `row.now.parent === 1 ? 'many' : 3`
    const [known, unknown] = variants(each(`row.now.rate = ${value}`), each(`Object.assign(row.now, { rate: ${value} })`))
    const without = ({ refusals, kept, out }: ReturnType<typeof told>) => ({
      refusals: refusals.map(({ code, row, field, hook }) => ({ code, row, field, hook })),
      kept,
      out,
    })
    const first = without(told(known!, partial))
    expect(first.refusals.map((each) => each.code)).toEqual(['hook/wrong-type', 'hook/threw'])
    expect(first.out.filter((row) => row.row < 3).map((row) => row.now)).toMatchObject([
      { rate: null, note: 'first', code: null },
      { rate: null, note: 'second', code: 'c' },
    ])
    expect(first.kept.map((row) => row['note'])).toEqual(partial ? ['third'] : [])
    expect(first).toEqual(without(told(unknown!, partial)))
  })
  test.each([
    ['rows.map(row => row.now.note).join()', '[...rows].map(row => row.now.note).join()'],
    [
      '{ let all = ""; for (const row of rows) all += row.now.note; return all }',
      '{ let all = ""; for (const row of [...rows]) all += row.now.note; return all }',
    ],
  ])('what load reads when it is asked for later is as it was: %s', (known, unknown) => {
    const kept = (body: string) =>
      `{ table: 'child', moment: 'before-save', load: ({ rows }) => () => ${body}, each(row, notes) { row.now.note = 'now ' + row.id; row.now.code = row.id + notes() } }`
    const [first, second] = variants(kept(known), kept(unknown)).map((world) => told(world, false))
    expect(first!.kept.map((row) => row['code'])).toEqual(
      ['1', '2', '3'].map((id) => `${id}first${known.startsWith('{') ? 'secondthird' : ',second,third'}`),
    )
    expect(first).toEqual(second)
  })
  test('a load that writes is reported so', () => {
    const [known, unknown] = variants(
      `{ table: 'child', moment: 'before-save', load({ rows }) { rows.forEach(row => { row.now.rate = 1 }) }, each() {} }`,
      `{ table: 'child', moment: 'before-save', load({ rows }) { rows[0].now.rate = 1 }, each() {} }`,
    )
    for (const world of [known!, unknown!]) {
      expect(told(world, false).error).toMatchObject({ hook: 'a-rate', code: expect.stringMatching(/^hook\//) as string })
      expect(world.all('child')).toEqual([])
    }
  })
})
