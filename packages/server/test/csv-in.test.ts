import { afterAll, beforeAll, expect, test } from 'vitest'
import type { CsvColumns, CsvResult, Job } from '@patient-hook/contract'
import { filesOf, hook, integer, link, text } from '../../core/test/world.js'
import { App } from './app.js'

/** Rows of CSV files from elsewhere: their columns read as fields, rehearsed and kept as jobs. */

let app: App
beforeAll(async () => {
  app = await App.start({
    files: () =>
      Object.fromEntries(
        filesOf({
          project: { users: ['ada'] },
          tables: {
            kind: { fields: { name: { ...text, title: 'Name' } } },
            item: {
              fields: { name: { ...text, title: 'Item name' }, qty: { ...integer, minimum: 0 }, kind: link('kind'), note: text },
            },
          },
          hooks: {
            h: hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.note ??= 'by hook' } }`),
          },
        }),
      ),
  })
  await app.save(
    { table: 'kind', values: { name: 'round' } },
    { table: 'kind', values: { name: 'flat' } },
    { table: 'kind', values: { name: 'flat' } },
    { table: 'item', values: { name: 'one', qty: 1 } },
  )
})
afterAll(() => app.end())

const columns = (text: string) => app.ask<CsvColumns>('POST', '/tables/item/csv/columns', { file: 'x.csv', text })
async function bring(text: string, more: object = {}) {
  const begun = await app.ask<{ id: string }>('POST', '/tables/item/csv', { file: 'x.csv', text, user: 'ada', ...more })
  if (begun.status !== 202) return { error: begun.body.error!, result: undefined }
  // The events end with the job.
  const events = await fetch(`${app.base}/api/jobs/${begun.body.id}/events`, { headers: { cookie: app.cookie } })
  await events.text()
  const { job, results } = (await app.ask<Job>('GET', `/jobs/${begun.body.id}`)).body
  return { error: job.error, result: results[0] as CsvResult | undefined }
}
const items = async () => (await app.ask<{ records: Record<string, unknown>[] }>('GET', '/tables/item/records')).body.records

test('columns are taken for fields by their names and labels, whatever the delimiter', async () => {
  const { body } = await columns('ID;Item name;Quantity;QTY;kind\n1;one;x;3;round\n;two;;;\n')
  expect(body).toEqual({
    rows: 2,
    columns: [
      { head: 'ID', field: 'id', samples: ['1'] },
      { head: 'Item name', field: 'name', samples: ['one', 'two'] },
      { head: 'Quantity', field: null, samples: ['x'] },
      { head: 'QTY', field: 'qty', samples: ['3'] },
      { head: 'kind', field: 'kind', samples: ['round'] },
    ],
  })
})

test('a rehearsal keeps nothing; then the rows are kept in one save, with links by what people call the record', async () => {
  const text = 'number;what;how many;of kind\r\n1;one;4;round\r\n;"two; or more";0;\r\n'
  const mapping = {
    number: { field: 'id' },
    what: { field: 'name' },
    'how many': { field: 'qty' },
    'of kind': { field: 'kind', by: 'name' },
  }
  const before = await items()
  const { result } = await bring(text, { columns: mapping, dry: true })
  expect(result).toMatchObject({ rows: 2, save: null, created: 1, changed: 1, same: 0, refused: 0, error: null, ripples: 0 })
  expect(result!.records[0]).toMatchObject({ table: 'item', id: 1, event: 'update' })
  expect(result!.records[0]!.changes).toContainEqual(expect.objectContaining({ field: 'qty', from: 1, to: 4, by: 'typed' }))
  expect(await items()).toEqual(before)
  const kept = await bring(text, { columns: mapping })
  expect(kept.result).toMatchObject({ created: 1, changed: 1, error: null })
  expect(kept.result!.save).toBeGreaterThan(1)
  expect(await items()).toMatchObject([
    { id: 1, name: 'one', qty: 4, kind: 1, note: 'by hook' },
    { name: 'two; or more', qty: 0, kind: null, note: 'by hook' },
  ])
})

test('what names no record, or two, is reported with its line, and nothing is kept', async () => {
  const before = await items()
  const text = 'name,kind\na,square\nb,flat\nc,round\n'
  const { error } = await bring(text, { columns: { name: { field: 'name' }, kind: { field: 'kind', by: 'name' } } })
  expect(error).toMatchObject({ code: 'project/bad-csv', file: 'x.csv', line: 2, field: 'kind' })
  expect(error!.message).toContain('no record of kind has the name "square"')
  expect(error!.others![0]).toMatchObject({ line: 3 })
  expect(error!.others![0]!.message).toContain('2 records of kind have the name "flat": 2, 3')
  expect(await items()).toEqual(before)
})

test('a mapping that cannot be is refused', async () => {
  const codes = [
    await bring('a\n1\n', { columns: { b: { field: 'qty' } } }),
    await bring('a\n1\n', { columns: { a: { field: 'quantity' } } }),
    await bring('a\n1\n', { columns: { a: null } }),
    await bring('a\n1\n', { columns: { a: { field: 'qty', by: 'name' } } }),
    await bring('a,b\n1,2\n', { columns: { a: { field: 'qty' }, b: { field: 'qty' } } }),
    await bring('a\n', { columns: { a: { field: 'qty' } } }),
  ].map(({ error }) => error!.code)
  expect(codes).toEqual([
    'csv/bad-mapping',
    'project/bad-csv',
    'csv/bad-mapping',
    'csv/bad-mapping',
    'project/bad-csv',
    'request/bad',
  ])
})

test('refused rows keep the whole file out, or stay out alone', async () => {
  const text = 'name,qty\ngood,1\nbad,-1\n'
  const whole = await bring(text)
  expect(whole.result).toMatchObject({ save: null, refused: 1, error: { code: 'check/bounds' } })
  expect((await items()).map(({ name }) => name)).not.toContain('good')
  const partial = await bring(text, { partial: true })
  expect(partial.result).toMatchObject({ created: 1, refused: 1, error: null, refusals: [{ row: 2, field: 'qty' }] })
  expect((await items()).map(({ name }) => name)).toContain('good')
})

test('rows that cannot be read stay out alone, too; every reason names its row in the file', async () => {
  const text =
    'id,name,qty,kind\n,first,many,\n,second,-1,\n,third,3,square\n,fourth,4,round\n1,fifth\n1,sixth,6,\n1,seventh,7,\n,eighth,8.5,\n'
  const columns = { id: { field: 'id' }, name: { field: 'name' }, qty: { field: 'qty' }, kind: { field: 'kind', by: 'name' } }
  expect((await bring(text, { columns })).error).toMatchObject({ code: 'project/bad-csv', line: 2, field: 'qty' })
  const dry = await bring(text, { columns, partial: true, dry: true })
  const { result } = await bring(text, { columns, partial: true })
  expect(result).toMatchObject({ rows: 8, created: 1, changed: 1, same: 0, refused: 6, error: null })
  expect({ ...dry.result, records: [] }).toEqual({ ...result, save: null, records: [] })
  expect(result!.refusals.map(({ row, line, field, code }) => [row, line ?? null, field ?? null, code])).toEqual([
    [1, 2, 'qty', 'project/bad-csv'],
    [2, null, 'qty', 'check/bounds'],
    [3, 4, 'kind', 'project/bad-csv'],
    [5, 6, null, 'project/bad-csv'],
    [7, 8, 'id', 'project/bad-csv'],
    [8, 9, 'qty', 'project/bad-csv'],
  ])
  const names = (await items()).map(({ name }) => name)
  expect(names).toContain('fourth')
  expect(names).toContain('sixth')
})

test('a file of which no row can be read keeps nothing, and says why of each', async () => {
  const before = await items()
  for (const dry of [true, false]) {
    const { result } = await bring('name,qty\na,x\nb,y\n', { partial: true, dry })
    expect(result).toMatchObject({ rows: 2, save: null, created: 0, refused: 2, error: null, refusals: [{ row: 1 }, { row: 2 }] })
  }
  expect(await items()).toEqual(before)
})

test('a file of more rows than a save takes from elsewhere, and larger than other requests may be', async () => {
  const count = 100_001
  const note = 'x'.repeat(200)
  const text = `name,qty,note\n${Array.from({ length: count }, (_, index) => `n${index},${index === 7 ? -1 : 1},${note}`).join('\n')}\n`
  expect(text.length).toBeGreaterThan(20 * 1024 * 1024)
  const before = (await items()).length
  const dry = await bring(text, { partial: true, dry: true })
  expect(dry.result).toMatchObject({ rows: count, save: null, created: count - 1, changed: 0, same: 0, refused: 1, ripples: 0 })
  expect(dry.result!.records).toHaveLength(100)
  expect(await items()).toHaveLength(before)
  const { result } = await bring(text, { partial: true })
  const { rows, created, refused, refusals } = result!
  expect({ rows, created, refused }).toEqual({ rows: 100_001, created: 100_000, refused: 1 })
  expect(refusals).toMatchObject([{ row: 8, field: 'qty', message: 'Qty must be at least 0, but is -1' }])
  expect(result!.backfill).not.toBeNull()
}, 120_000)
