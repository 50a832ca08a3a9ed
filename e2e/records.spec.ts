import { expect, test, violations } from './app.js'

/** Records: a record and what belongs to it, typed as one document and kept in one save. */

test.use({ ground: 'records' })
const at = (path: string, url: string) => new URL(path, url).href

test('a header with a changed and a new line is kept in one save', async ({ app }) => {
  await app.goto(at('/records/request/1', app.url()))
  const head = app.getByRole('region', { name: 'Row 1' })
  await expect(app.getByRole('button', { name: 'Save', exact: true })).toBeDisabled()
  await head.getByRole('button', { name: 'its Request line records' }).click()
  const line = app.getByRole('region', { name: 'Row 2' })
  await line.getByLabel('Packets').fill('3')
  await head.getByRole('button', { name: '+ Request line' }).click()
  const added = app.getByRole('region', { name: /Row \d+/ }).last()
  await added.getByRole('combobox', { name: 'Lot' }).click()
  await app.getByRole('option', { name: /HV-00000001/ }).click()
  await added.getByLabel('Packets').fill('0')
  await app.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(added.getByText('Packets must be at least 1, but is 0').first()).toBeVisible()
  await added.getByLabel('Packets').fill('1')
  await added.getByLabel('Seeds per packet').fill('10')
  await expect(app.getByText('2 records in one save')).toBeVisible()
  expect(await violations(app)).toEqual([])
  await app.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(app.getByLabel('Save path')).toContainText('2 rows')
  await expect(app.getByText(/requests\/lines-to-request@/).first()).toBeVisible()
})

test('a copy, and a removal that says what it is', async ({ app }) => {
  await app.goto(at('/records/site/1', app.url()))
  const row = app.getByRole('region', { name: 'Row 1' })
  await row.getByLabel('What is done to row 1').selectOption('copy')
  await row.locator('input[name=name]').fill('Copied fen')
  await app.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(app).not.toHaveURL(/\/records\/site\/1$/)
  await expect(app.locator('input[name=name]')).toHaveValue('Copied fen')
  await app.getByRole('region', { name: 'Row 1' }).getByLabel('What is done to row 1').selectOption('remove')
  await expect(app.getByText(/^Site \d+ goes\. Nothing else goes or changes with it\.$/)).toBeVisible()
  const copied = app.url().replace(/^.*\//, '')
  await app.getByRole('button', { name: `Remove site ${copied}` }).click()
  await expect(app).toHaveURL(/\/records\/site$/)
  await app.goto(at(`/records/site/${copied}`, app.url()))
  await expect(app.getByText(/There is no site|not there|no record/i).first()).toBeVisible()
})

test('before a record is removed it is told why it cannot go', async ({ app }) => {
  const linked = await app.evaluate(async () => {
    const answer = await fetch('/api/tables/lot/records?limit=1')
    return ((await answer.json()) as { records: { collection: number; species: number }[] }).records[0]!
  })
  await app.goto(at(`/records/collection/${linked.collection}`, app.url()))
  await app.getByRole('region', { name: 'Row 1' }).getByLabel('What is done to row 1').selectOption('remove')
  await expect(app.getByText(/would be refused: .*collection/)).toBeVisible()
})
