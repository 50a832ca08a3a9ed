import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { choose, expect, test, undoOf, violations } from './app.js'

/** Fixture sets: edited in a grid with the table's checks, pasted, undone, read from and written to CSV, taken from records, made. */

test.use({ ground: 'fixtures' })

const cell = (app: Page, row: number, column: number) =>
  app
    .locator(`tbody tr[aria-rowindex="${row + 1}"]`)
    .getByRole('gridcell')
    .nth(column)
const open = (app: Page, path: string) => app.goto(new URL(path, app.url()).href)
/** What a spreadsheet would put on the clipboard, pasted where the cursor is. */
const paste = (app: Page, text: string) =>
  app.evaluate((given) => {
    const clipboardData = new DataTransfer()
    clipboardData.setData('text/plain', given)
    document.activeElement!.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }))
  }, text)

test('cells are edited by keys, with the checks of the table, and undone; what is saved is what tests start from', async ({
  app,
}) => {
  await app.keyboard.press('Alt+5')
  await app.getByRole('link', { name: 'Fixture sets' }).click()
  await open(app, '/fixtures/base/lot')
  await expect(app.getByRole('grid', { name: 'Lot of base' })).toBeVisible()
  await cell(app, 1, 5).click()
  await app.keyboard.type('-3')
  await app.keyboard.press('Enter')
  await expect(cell(app, 1, 5)).toHaveAttribute('aria-invalid', 'true')
  await expect(app.getByLabel('Problems')).toContainText('tare_mass_g must be at least 0, but is -3')
  await expect(app.getByLabel('Tables of the set').getByRole('button', { name: /Lot/ })).toContainText('1 problem')
  for (const dark of [false, true]) {
    if (dark) await app.getByRole('button', { name: 'Use dark theme' }).click()
    expect(await violations(app)).toEqual([])
  }
  await app.getByRole('button', { name: 'Use light theme' }).click()
  await app.getByRole('button', { name: 'Save fixture set' }).click()
  await expect(app.getByRole('alert').first()).toContainText('tare_mass_g must be at least 0')
  await cell(app, 2, 5).click()
  await app.keyboard.press('Control+z')
  await expect(cell(app, 1, 5)).toHaveText('12')
  await expect(app.getByText('unsaved')).toHaveCount(0)
  await app.keyboard.press('Control+y')
  await expect(cell(app, 1, 5)).toHaveText('-3')
  await app.getByRole('button', { name: 'Discard' }).click()
  await expect(cell(app, 1, 5)).toHaveText('12')
  await undoOf(app, 'Discarded the changes to base').click()
  await expect(cell(app, 1, 5)).toHaveText('-3')
  await app.getByRole('button', { name: 'Discard' }).click()
  await expect(cell(app, 1, 5)).toHaveText('12')
})

test('rows from a spreadsheet, a new set, and a reload in between', async ({ app }) => {
  await open(app, '/fixtures/base/site')
  await app.getByLabel('Name of the new set').fill('coast')
  await app.getByRole('button', { name: 'New set' }).click()
  await expect(app.getByText('coast has no Site yet')).toBeVisible()
  await app.getByRole('button', { name: 'Add row' }).click()
  await cell(app, 1, 0).click()
  await paste(app, '1\tSand Ness\t"a ""quoted"" place"\n2\tCliff End\tx\n')
  await expect(cell(app, 2, 1)).toHaveText('Cliff End')
  await expect(cell(app, 1, 2)).toHaveText('a "quoted" place')
  await app.waitForLoadState('networkidle')
  await app.reload()
  await expect(cell(app, 2, 1)).toHaveText('Cliff End')
  // Two rows and two columns are chosen and copied as they came.
  await cell(app, 1, 1).click()
  await cell(app, 2, 2).click({ modifiers: ['Shift'] })
  const copied = await app.evaluate(() => {
    const clipboardData = new DataTransfer()
    document.activeElement!.dispatchEvent(new ClipboardEvent('copy', { clipboardData, bubbles: true, cancelable: true }))
    return clipboardData.getData('text/plain')
  })
  expect(copied.replaceAll('\r\n', '\n')).toBe('Sand Ness\t"a ""quoted"" place"\nCliff End\tx')
  await app.keyboard.press('Delete')
  await expect(cell(app, 2, 1)).toHaveText('—')
  await app.keyboard.press('Control+z')
  await expect(cell(app, 2, 1)).toHaveText('Cliff End')
})

test('live records with all that they link to, rows from the schema, Export CSV and in', async ({ app }) => {
  await open(app, '/fixtures/shelf/lot')
  await app.getByRole('button', { name: 'Add from records…' }).click()
  const chooser = app.getByRole('navigation', { name: 'Live records' })
  await choose(chooser.getByLabel('Table'), 'Lot')
  await chooser.getByRole('button', { name: /^1 / }).first().click()
  await expect(app.getByRole('grid', { name: 'Lot of shelf' }).getByRole('row')).toHaveCount(2)
  await expect(app.getByLabel('Tables of the set').getByRole('button', { name: /Collection/ })).toContainText('1')
  await app.getByRole('button', { name: 'Generate rows…' }).click()
  await app.getByLabel('Rows', { exact: true }).fill('30')
  await app.getByRole('button', { name: 'Generate rows', exact: true }).click()
  await expect(app.getByRole('grid', { name: 'Lot of shelf' })).toHaveAttribute('aria-rowcount', '32')
  await expect(app.getByLabel('Problems')).toHaveCount(0)
  const [download] = await Promise.all([app.waitForEvent('download'), app.getByRole('button', { name: 'Export CSV' }).click()])
  const csv = readFileSync(await download.path(), 'utf8')
  expect(csv.split('\n')[0]).toMatch(/^id,accession,collection,/)
  expect(csv.trim().split('\n').length).toBeGreaterThanOrEqual(32)
  await app
    .getByLabel('CSV file')
    .setInputFiles({ name: 'x.csv', mimeType: 'text/csv', buffer: Buffer.from('id,colour\n1,red\n') })
  await expect(app.getByRole('alert')).toContainText('lot has no field colour')
  const two = csv.split('\n').slice(0, 3).join('\n')
  await app.getByLabel('CSV file').setInputFiles({ name: 'x.csv', mimeType: 'text/csv', buffer: Buffer.from(two) })
  await expect(app.getByRole('grid', { name: 'Lot of shelf' })).toHaveAttribute('aria-rowcount', '3')
  await app.keyboard.press('Control+s')
  await expect(app.getByText('unsaved')).toHaveCount(0)
  await app.reload()
  await expect(app.getByRole('button', { name: 'shelf', exact: true })).toBeVisible()
  await expect(app.getByRole('grid', { name: 'Lot of shelf' })).toHaveAttribute('aria-rowcount', '3')
})
