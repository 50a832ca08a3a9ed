import { ask, choose, expect, test, violations } from './app.js'

/** The list of a table's records: sorted, filtered, kept as a view; typed into, and several of them changed in one save. */

test.use({ ground: 'record-list' })
const at = (path: string, url: string) => new URL(path, url).href
interface Listed {
  total: number
  records: Record<string, unknown>[]
}

test('sorts by several columns, and the order is in the address', async ({ app }) => {
  await app.goto(at('/records/lot', app.url()))
  const grid = app.getByRole('grid', { name: 'Lot records' })
  await grid.getByRole('button', { name: /^Species/ }).click()
  await grid.getByRole('button', { name: /^Net mass/ }).click({ modifiers: ['Shift'] })
  await grid.getByRole('button', { name: /^Net mass/ }).click({ modifiers: ['Shift'] })
  await expect(app).toHaveURL(/order=species%2C-net_mass_g|order=species,-net_mass_g/)
  await expect(grid.getByRole('columnheader', { name: /Net mass/ })).toHaveAttribute('aria-sort', 'descending')
  const { records } = await ask<Listed>(app, 'GET', '/tables/lot/records?orderBy=species,-net_mass_g&limit=5')
  await expect(grid.getByRole('rowheader')).toContainText(records.map(({ id }) => String(id)))
  await app.reload()
  await expect(grid.getByRole('rowheader').first()).toHaveText(String(records[0]!['id']))
  expect(await violations(app)).toEqual([])
})

test('an address of a table that is not there says so', async ({ app }) => {
  await app.goto(at('/records/lott', app.url()))
  await expect(app.getByText('There is no table lott')).toBeVisible()
  await expect(app.getByRole('button', { name: 'New record' })).toHaveCount(0)
  await choose(app.getByLabel('Table', { exact: true }), /^Lot /)
  await expect(app.getByRole('grid', { name: 'Lot records' })).toBeVisible()
})

test('scrolls through all records, and reads what comes on the screen', async ({ app }) => {
  await app.goto(at('/records/lot?order=accession', app.url()))
  const grid = app.getByRole('grid', { name: 'Lot records' })
  await expect(grid.getByRole('rowheader').first()).toBeVisible()
  const { total, records } = await ask<Listed>(app, 'GET', '/tables/lot/records?orderBy=-accession&limit=1')
  await expect(app.getByLabel('Records of the list')).toHaveText(`${total} records`)
  await grid.getByRole('rowheader').first().focus()
  await grid.locator('..').evaluate((list) => (list.scrollTop = list.scrollHeight))
  await expect(grid.getByRole('rowheader').last()).toHaveText(String(records[0]!['id']))
  await expect(grid.getByRole('row').last()).toHaveAttribute('aria-rowindex', String(total + 1))
})

test('a cell is typed into: hooks run, others follow, and what is refused stays open', async ({ app }) => {
  await app.goto(at('/records/lot?columns=accession,gross_mass_g,net_mass_g,status', app.url()))
  const row = app.getByRole('row').filter({ has: app.getByRole('rowheader', { name: '7', exact: true }) })
  const { records } = await ask<Listed>(app, 'GET', `/tables/lot/records?where=${encodeURIComponent('{"id":7}')}`)
  const tare = Number(records[0]!['tare_mass_g'])
  await row.getByRole('gridcell').nth(1).click()
  await app.keyboard.press('F2')
  await app.getByLabel('Gross mass (g) of 7').fill(String(tare + 50))
  await app.keyboard.press('Enter')
  await expect(row.getByRole('gridcell').nth(2)).toHaveText('50')
  await expect(app.getByText(/Saved: 1 record changes; hooks set \d+ values? of them/)).toBeVisible()
  // Typing begins in the cell, in place of what is there.
  await row.getByRole('gridcell').nth(1).click()
  await app.keyboard.type('x')
  await app.keyboard.press('Enter')
  await expect(app.getByRole('alert').filter({ hasText: 'gross_mass_g takes a number' })).toBeVisible()
  await expect(app.getByLabel('Gross mass (g) of 7')).toHaveValue('x')
  await app.getByLabel('Gross mass (g) of 7').fill(String(tare + 60))
  await app.keyboard.press('Tab')
  await expect(row.getByRole('gridcell').nth(2)).toHaveText('60')
  await app.keyboard.press('Shift+Tab')
  await row.getByRole('gridcell').nth(1).dblclick()
  await app.getByLabel('Gross mass (g) of 7').fill('1')
  await app.keyboard.press('Escape')
  await expect(row.getByRole('gridcell').nth(1)).toHaveAttribute('title', String(tare + 60))
})

test('what somebody else changed meanwhile is not overwritten from the list', async ({ app }) => {
  await app.goto(at('/records/site?columns=name', app.url()))
  const row = app.getByRole('row').filter({ has: app.getByRole('rowheader', { name: '2', exact: true }) })
  await row.getByRole('gridcell').nth(0).dblclick()
  await ask(app, 'POST', '/saves', { rows: [{ table: 'site', id: 2, values: { name: 'Changed elsewhere' } }], user: 'bram' })
  await app.getByLabel('Name of 2').fill('Changed here')
  await app.keyboard.press('Enter')
  await expect(app.getByText(/Changed elsewhere/).first()).toBeVisible()
  const { records } = await ask<Listed>(app, 'GET', `/tables/site/records?where=${encodeURIComponent('{"id":2}')}`)
  expect(records[0]!['name']).toBe('Changed elsewhere')
})

test('several records are changed in one save, after a preview', async ({ app }) => {
  await app.goto(at('/records/lot?columns=gross_mass_g,net_mass_g', app.url()))
  await app.getByLabel('Select 11', { exact: true }).click()
  await app.getByLabel('Select 13', { exact: true }).click({ modifiers: ['Shift'] })
  const chosen = app.getByRole('region', { name: 'Selected records' })
  await expect(chosen.getByText('3 records selected')).toBeVisible()
  await chosen.getByRole('button', { name: 'Change…' }).click()
  await choose(chosen.getByLabel('Field to set'), 'Gross mass (g)')
  await chosen.getByRole('textbox', { name: 'Gross mass (g)' }).fill('120')
  await chosen.getByRole('button', { name: 'Preview' }).click()
  await expect(chosen.getByText(/3 records change; hooks set \d+ values of them/)).toBeVisible()
  await expect(chosen.getByRole('table', { name: 'Preview' })).toContainText('net_mass_g')
  const newest = async () =>
    (await ask<{ saves: { id: number; rows: number }[] }>(app, 'GET', '/saves?limit=1&only=kept')).saves[0]!
  const before = await newest()
  await chosen.getByRole('button', { name: 'Save 3 records' }).click()
  await expect(app.getByText(/^Saved: 3 records change/)).toBeVisible()
  expect(await newest()).toMatchObject({ id: before.id + 1, rows: 3 })
  const where = encodeURIComponent('{"id":{"in":[11,12,13]}}')
  const { records } = await ask<Listed>(app, 'GET', `/tables/lot/records?where=${where}`)
  expect(records.map((record) => record['gross_mass_g'])).toEqual([120, 120, 120])
  expect(await violations(app)).toEqual([])
})

test('chosen records are copied with the columns that are shown', async ({ app, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await app.goto(at('/records/site?columns=name,status', app.url()))
  await app.getByLabel('Select 1', { exact: true }).click()
  await app.getByLabel('Select 3', { exact: true }).click()
  await app.getByRole('button', { name: 'Copy CSV' }).click()
  await expect(app.getByText('2 records copied as CSV.')).toBeVisible()
  const { records } = await ask<Listed>(app, 'GET', `/tables/site/records?where=${encodeURIComponent('{"id":{"in":[1,3]}}')}`)
  const lines = records.map(({ id, name, status }) => `${id},${name},${status}`)
  expect((await app.evaluate(() => navigator.clipboard.readText())).split('\r\n')).toEqual(['id,name,status', ...lines])
  await app.getByRole('button', { name: 'Copy JSON' }).click()
  await expect(app.getByText('2 records copied as JSON.')).toBeVisible()
  expect(JSON.parse(await app.evaluate(() => navigator.clipboard.readText()))).toEqual(
    records.map(({ id, name, status }) => ({ id, name, status })),
  )
})

test('a view is kept under a name, taken again, and removed', async ({ app }) => {
  await app.goto(at('/records/lot', app.url()))
  await app.getByRole('button', { name: 'Filter' }).click()
  await app.getByRole('button', { name: 'Add condition' }).click()
  await choose(app.getByLabel('Field 1'), 'Status')
  await choose(app.getByLabel('Value 1'), 'stored')
  await app.getByRole('button', { name: 'Columns' }).click()
  await app.getByLabel('Net mass (g) to the left').click()
  await app.getByLabel('Moisture (%)', { exact: true }).click()
  await app.keyboard.press('Escape')
  await app.getByRole('button', { name: 'Views', exact: true }).click()
  await app.getByLabel('Name of this view').fill('Stored ones')
  await app.getByRole('button', { name: 'Save view', exact: true }).click()
  await expect(app.getByText('Stored ones', { exact: true }).first()).toBeVisible()
  const address = app.url()
  // In another browser, without what this one remembers.
  await app.evaluate(() => localStorage.clear())
  await app.goto(at('/records/lot', app.url()))
  const grid = app.getByRole('grid', { name: 'Lot records' })
  await expect(grid.getByRole('columnheader', { name: /Moisture/ })).toBeVisible()
  await app.getByRole('button', { name: 'Views', exact: true }).click()
  await app.getByRole('button', { name: 'Stored ones', exact: true }).click()
  await expect(app).toHaveURL(address)
  await expect(grid.getByRole('columnheader', { name: /Moisture/ })).toHaveCount(0)
  const where = encodeURIComponent('{"status":{"eq":"stored"}}')
  const { total } = await ask<Listed>(app, 'GET', `/tables/lot/records?where=${where}&limit=1`)
  await expect(app.getByLabel('Records of the list')).toHaveText(`${total} records`)
  await app.getByRole('button', { name: 'Stored ones', exact: true }).click()
  await app.getByRole('button', { name: 'Delete view Stored ones' }).click()
  await expect(app.getByText('No saved views yet.')).toBeVisible()
})

test('all of a long list are chosen and copied in its order; too many are for a backfill', async ({ app, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  const add = (count: number, from: number) =>
    ask(app, 'POST', '/saves', {
      rows: Array.from({ length: count }, (_, at) => ({ table: 'site', values: { name: `Copied ${from + at}` } })),
      user: 'ada',
    })
  await add(1700, 1)
  const where = encodeURIComponent('{"name":{"like":"Copied%"}}')
  await app.goto(at(`/records/site?where=${where}&order=-name&columns=name`, app.url()))
  await expect(app.getByLabel('Records of the list')).toHaveText('1700 records')
  await app.getByLabel('Select all', { exact: true }).click()
  await expect(app.getByText('1700 records selected')).toBeVisible()
  await app.getByRole('button', { name: 'Copy JSON' }).click()
  await expect(app.getByText('1700 records copied as JSON.')).toBeVisible()
  const copied = JSON.parse(await app.evaluate(() => navigator.clipboard.readText())) as { name: string }[]
  const names = copied.map(({ name }) => name)
  expect(names).toEqual(
    Array.from({ length: 1700 }, (_, index) => `Copied ${index + 1}`)
      .sort()
      .reverse(),
  )
  await add(301, 1701)
  await app.reload()
  await app.getByLabel('Select all', { exact: true }).click()
  await expect(app.getByText('2001 records are too many to select.')).toBeVisible()
  await app.getByRole('link', { name: 'Use a backfill to process them in batches' }).click()
  await expect(app.getByLabel('Value 1')).toHaveValue('Copied%')
  await app.goto(at('/records/site?search=copied', app.url()))
  await app.getByLabel('Select all', { exact: true }).click()
  await expect(app.getByText(/use a filter instead of a search/)).toBeVisible()
})
