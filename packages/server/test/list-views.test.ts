import { afterAll, beforeAll, expect, test } from 'vitest'
import type { ListView, Table } from '@patient-hook/contract'
import { editOf } from '../../core/src/model/table-edit.js'
import { filesOf, integer, text } from '../../core/test/world.js'
import { App } from './app.js'

/** Views of lists: kept by name, in the database, and true to their table when it changes. */

let app: App
beforeAll(async () => {
  app = await App.start({
    files: () => Object.fromEntries(filesOf({ tables: { item: { fields: { name: text, qty: integer, size: integer } } } })),
  })
})
afterAll(() => app.end())

const query = { search: '', order: '-qty,name', where: { qty: { gt: 3 } }, columns: ['qty', 'size', 'name'] }
type Views = { views: ListView[] }
type SearchAnswer = { records: { table: string; id: number; label: string }[]; views: ListView[] }
const names = (views: { name: string }[]) => views.map(({ name }) => name)

test('a view is kept under a name, replaced by another of that name, and removed', async () => {
  const kept = await app.ask<Views>('PUT', '/tables/item/views/Few%20%26%20large', { query, user: 'ada' })
  expect(kept.body.views).toMatchObject([{ table: 'item', name: 'Few & large', user: 'ada', query }])
  await app.ask<Views>('PUT', '/tables/item/views/all', { query: {}, user: 'bram' })
  const again = await app.ask<Views>('PUT', '/tables/item/views/all', { query: { order: 'name' }, user: 'ada' })
  expect(names(again.body.views)).toEqual(['all', 'Few & large'])
  expect(again.body.views[0]).toMatchObject({ user: 'ada', query: { search: '', order: 'name', where: {}, columns: null } })
  const left = await app.ask<Views>('DELETE', '/tables/item/views/all')
  expect(names(left.body.views)).toEqual(['Few & large'])
  expect(await app.ask<Views>('DELETE', '/tables/item/views/all')).toMatchObject({
    status: 404,
    body: { error: { code: 'view/unknown' } },
  })
})

test('what cannot be shown as a list is not kept', async () => {
  const put = (query: object, view = 'bad', table = 'item') =>
    app.ask<Views>('PUT', `/tables/${table}/views/${view}`, { query, user: 'ada' })
  const codes = [
    await put({ where: { quantity: 1 } }),
    await put({ order: 'name,-sise' }),
    await put({ columns: ['nam'] }),
    await put({ where: { qty: 'many' } }),
    await put({}, 'x', 'itme'),
  ].map(({ body }) => body.error!.code)
  expect(codes).toEqual([
    'hook/unknown-field',
    'hook/unknown-field',
    'hook/unknown-field',
    'hook/bad-query',
    'project/unknown-table',
  ])
  expect((await put({}, '%20x')).status).toBe(400)
  expect((await put({}, 'a%0Ab')).status).toBe(400)
  expect(names((await app.ask<Views>('GET', '/tables/item/views')).body.views)).toEqual(['Few & large'])
})

test('search finds records of all tables by name and id, and kept views', async () => {
  await app.save({ table: 'item', values: { name: 'Few of them' } }, { table: 'item', values: { name: 'many' } })
  const found = async (text: string) => (await app.ask<SearchAnswer>('GET', `/search?text=${text}`)).body
  expect(await found('few')).toMatchObject({
    records: [{ table: 'item', id: 1, label: 'Few of them' }],
    views: [{ table: 'item', name: 'Few & large', query }],
  })
  expect((await found('2')).records).toEqual([{ table: 'item', id: 2, label: 'many' }])
  expect(await found('nothing')).toEqual({ records: [], views: [] })
  expect((await app.ask('GET', '/search?text=%20')).status).toBe(400)
})

test('a field that gets another name gets it in views too; one that goes leaves their columns and their order', async () => {
  const [table] = (await app.ask<{ tables: Table[] }>('GET', '/project')).body.tables
  const edit = editOf(table!)
  const fields = edit.fields
    .filter(({ name }) => name !== 'size')
    .map((field) => (field.name === 'qty' ? { ...field, was: 'qty', name: 'amount' } : field))
  const change = async (edit: object | null) => {
    const { revision } = (await app.ask<{ revision: string }>('POST', '/model/plan', { table: 'item', edit })).body
    return app.ask('POST', '/model/change', { table: 'item', edit, from: revision, accept: true, user: 'ada' })
  }
  const changed = await change({ ...edit, fields })
  expect(changed.status).toBe(200)
  expect((await app.ask<Views>('GET', '/tables/item/views')).body.views[0]!.query).toEqual({
    search: '',
    order: '-amount,name',
    where: { amount: { gt: 3 } },
    columns: ['amount', 'name'],
  })
  const gone = await change(null)
  expect(gone.status).toBe(200)
  expect((await app.ask<Views>('GET', '/tables/item/views')).body.error!.code).toBe('project/unknown-table')
})
