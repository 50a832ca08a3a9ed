import { expect, test } from './app.js'

/** Lists at the side: filtered, in natural order, scrolled to what is chosen; and the views in little room. */

test('the hooks are filtered by name and table, and the chosen one is in sight', async ({ app }) => {
  await app.goto(new URL('/write/request-within-stock', app.url()).href)
  const list = app.getByRole('navigation', { name: 'Hooks' })
  const chosen = list.getByRole('link', { name: 'request-within-stock' })
  await expect(chosen).toBeInViewport()
  await list.getByLabel('Filter the hooks').fill('siblings')
  await expect(list.getByRole('link')).toHaveCount(1)
  await list.getByLabel('Filter the hooks').fill('germ')
  await expect(list.getByText('No hook or table matches.')).toBeVisible()
})

test('the hooks of a table fold away, and are there again for anyone who looks for one', async ({ app: page }) => {
  await page.goto(new URL('/write/lot-mass', page.url()).href)
  const list = page.getByRole('navigation', { name: 'Hooks' })
  const lots = list.getByRole('button', { name: /^Lot lot/ })
  await expect(lots).toHaveAttribute('aria-expanded', 'true')
  await lots.click()
  await expect(list.getByRole('link', { name: /^lot-accession/ })).toHaveCount(0)
  await expect(lots).toContainText('7')
  await expect(list.getByRole('link', { name: /^request-number/ })).toBeVisible()
  await list.getByLabel('Filter the hooks').fill('accession')
  await expect(list.getByRole('link', { name: /^lot-accession/ })).toBeVisible()
  await list.getByLabel('Filter the hooks').fill('')
  await lots.click()
  await expect(list.getByRole('link', { name: /^lot-mass/ })).toBeVisible()
})

test('tables and fields are found by a part of their names', async ({ app }) => {
  await app.goto(new URL('/model/species', app.url()).href)
  const list = app.getByRole('navigation', { name: 'Tables' })
  await expect(list.getByRole('link', { name: 'Species species' })).toBeInViewport()
  await list.getByLabel('Find a table or field').fill('tare mass')
  await expect(list.getByRole('link')).toHaveText([/Tare mass \(g\) lot\.tare_mass_g/])
  await list.getByLabel('Find a table or field').fill('Request line')
  await expect(list.getByRole('link').first()).toHaveText(/Request line/)
  await list.getByLabel('Find a table or field').fill('no such thing')
  await expect(list.getByText('No table or field matches.')).toBeVisible()
})

test('a typed value that a ripple of the same save overwrites is marked in the sheet', async ({ app }) => {
  await app.goto(new URL('/write/lot-notes-to-siblings', app.url()).href)
  const sheet = app.getByLabel('Effect sheet')
  const cell = sheet.getByRole('row').nth(1).getByRole('gridcell').last()
  await expect(cell).toContainText('R')
  await cell.click()
  await expect(app.getByRole('status', { name: 'Selected cell' })).toContainText('then rippled to')
  await app
    .getByLabel('Save path')
    .getByRole('button', { name: /ripples/ })
    .click()
  await expect(
    app.getByLabel('Ripples', { exact: true }).getByTitle(/was typed, but lot-notes-to-siblings replaced it/),
  ).toBeVisible()
})

test.describe('in a window of 640 × 400', () => {
  test.use({ viewport: { width: 640, height: 400 } })
  test('the stations do not overlap, and Save is in sight', async ({ app }) => {
    for (const [path, save] of [
      ['/write/request-within-stock', 'Save hook'],
      ['/records/lot/3', 'Save'],
    ] as const) {
      await app.goto(new URL(path, app.url()).href)
      await expect(app.getByRole('button', { name: save, exact: true })).toBeInViewport({ ratio: 1 })
      const stations = app.getByLabel('Save path').getByRole('button')
      if (path.startsWith('/records')) continue
      await expect(stations.first()).toContainText(/row/)
      const boxes = await stations.evaluateAll((all) =>
        all.map((each) => [each.getBoundingClientRect().left, each.getBoundingClientRect().left + each.scrollWidth]),
      )
      for (const [index, [left]] of boxes.slice(1).entries()) expect(left).toBeGreaterThanOrEqual(Math.floor(boxes[index]![1]!))
    }
  })
})
