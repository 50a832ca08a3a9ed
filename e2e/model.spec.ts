import type { Page } from '@playwright/test'
import { choose, expect, test, undoOf, violations } from './app'

/** Making and changing tables in place, with the records that are there. */

const open = (page: Page, path: string) => page.goto(new URL(path, page.url()).href)
const plan = (page: Page) => page.getByLabel('Effects of the change')
const recordOf = async (page: Page, table: string, id: number) =>
  (
    (await (await page.request.get(new URL(`/api/tables/${table}/records/${id}`, page.url()).href)).json()) as {
      record: Record<string, unknown>
    }
  ).record

// Tables are changed here.
test.use({ ground: 'model' })

test.afterEach(async ({ app: page }) => {
  await page.evaluate(() => sessionStorage.clear())
})

test('a change says what it loses before it is done, and asks', async ({ app: page }) => {
  await open(page, '/model/partner')
  await page.getByRole('button', { name: 'Change', exact: true }).click()
  await page.getByLabel('Greatest length of city').fill('3')
  await page.keyboard.press('Tab')
  await expect(plan(page)).toContainText(/breaks city: \d+ records are outside of the bounds/)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(plan(page)).toContainText('No changes yet')

  await choose(page.getByLabel('Type of city'), 'number')
  await expect(plan(page)).toContainText(/loses city: \d+ records hold a value that cannot be number; it goes/)
  const apply = page.getByRole('button', { name: 'Save table' })
  await expect(apply).toBeDisabled()
  await page.getByRole('button', { name: 'Discard changes' }).click()
  await expect(page.getByRole('table', { name: 'Fields' }).getByRole('row', { name: / city / })).toContainText('text')
  await undoOf(page, 'Discarded the changes to the table').click()
  await expect(plan(page)).toContainText(/loses city/)
})

test('a required field wants a value for the records that have none, and is made', async ({ app: page }) => {
  await open(page, '/model/site')
  await page.getByRole('button', { name: 'Change', exact: true }).click()
  await page.getByRole('button', { name: 'Add field' }).click()
  await page.getByLabel('Label of new_field').fill('Soil')
  await choose(page.getByLabel('Type of soil'), 'choices')
  await page.getByLabel('Choices of soil').fill('peat, clay, loam')
  await page.getByLabel('soil is required').check()
  await expect(plan(page)).toContainText(/blocked soil is required, but \d+ records have no value/)
  await choose(page.getByLabel('Value for soil'), 'peat')
  await expect(plan(page)).toContainText('fill soil: records without a value are set to peat')
  await page.getByRole('button', { name: 'Save table' }).click()
  await expect(page.getByRole('table', { name: 'Fields' }).getByRole('row', { name: /^Soil/ })).toContainText('peat, clay, loam')
  expect(await recordOf(page, 'site', 1)).toMatchObject({ soil: 'peat' })
})

test('a renamed field is renamed in the hooks that use it', async ({ app: page }) => {
  await open(page, '/model/lot')
  await page.getByRole('button', { name: 'Change', exact: true }).click()
  await page.getByLabel('Name of net_mass_g').fill('seed_mass_g')
  await page.keyboard.press('Tab')
  await expect(plan(page)).toContainText('net_mass_g is named seed_mass_g from now on')
  await expect(plan(page)).toContainText('plugins/vault/hooks/lot-mass.ts')
  await page.getByRole('button', { name: 'Save table' }).click()
  await expect(page.getByRole('table', { name: 'Fields' }).getByRole('row', { name: /^Net mass/ })).toContainText('seed_mass_g')
  await open(page, '/write/lot-mass')
  await expect(page.locator('.cm-content')).toContainText('row.now.seed_mass_g =')
  await expect(page.locator('td.now').first()).toContainText('100')
  await page.getByRole('button', { name: 'Run tests' }).click()
  await expect(page.locator('[data-test=summary]')).toContainText(/\d+ passed, 0 failed/)
})

test('a table comes from a CSV file, with types to be corrected and its records', async ({ app: page }) => {
  await open(page, '/model')
  await page.getByLabel('Import a table').setInputFiles({
    name: 'Growing Plots.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('ID,Plot name,Size (ha),Sown on,Site\n3,Alder,1.5,2025-03-01,1\n8,Birch,2,2025-04-02,2\n'),
  })
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('growing_plots')
  await expect(page.getByLabel('Type of sown_on')).toHaveValue('date')
  await expect(page.getByLabel('Type of site')).toHaveValue('link')
  await page.getByLabel('Name of plot_name').fill('name')
  await page.keyboard.press('Tab')
  await expect(plan(page)).toContainText('2 records come in')
  expect(await violations(page)).toEqual([])
  await page.getByRole('button', { name: 'Create table' }).click()
  await expect(page).toHaveURL(/\/model\/growing_plots$/)
  expect(await recordOf(page, 'growing_plots', 8)).toEqual({ id: 8, name: 'Birch', size_ha: 2, sown_on: '2025-04-02', site: 2 })

  await test.step('and goes again', async () => {
    await page.getByRole('button', { name: 'Remove', exact: true }).click()
    await expect(page.getByRole('alert')).toContainText('The table growing_plots goes, with 2 records')
    await page.getByRole('button', { name: 'Remove growing_plots' }).click()
    await expect(page.getByRole('link', { name: /growing_plots/ })).toHaveCount(0)
  })
})

test('a file that is no UTF-8 is not read as something else', async ({ app: page }) => {
  await open(page, '/model')
  await page.getByLabel('Import a table').setInputFiles({
    name: 'plots.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('Name\nCaf\xe9\n', 'latin1'),
  })
  await expect(page.getByRole('alert')).toContainText('plots.csv cannot be read: byte 8 (0xe9) is no UTF-8; it may be Latin-1')
})

test('a table comes from a JSON Schema; one that is wrong is named with its path', async ({ app: page }) => {
  await open(page, '/model')
  const schema = (type: string) => ({
    name: 'shelf.json',
    mimeType: 'application/json',
    buffer: Buffer.from(
      JSON.stringify({ type: 'object', title: 'Shelf', properties: { number: { type, title: 'Number', maximum: 40 } } }),
    ),
  })
  await page.getByLabel('Import a table').setInputFiles(schema('list'))
  await expect(page.getByRole('alert')).toContainText('/properties/number/type')
  await page.getByLabel('Import a table').setInputFiles(schema('integer'))
  await expect(page.getByLabel('Greatest number')).toHaveValue('40')
  await page.reload()
  await expect(page.getByLabel('Label', { exact: true })).toHaveValue('Shelf')
  await page.getByRole('button', { name: 'Create table' }).click()
  await expect(page.getByRole('heading', { name: /Shelf/ })).toBeVisible()
})
