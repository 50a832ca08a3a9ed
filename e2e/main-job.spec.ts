import { choose, expect, test, violations, writeCode } from './app'

/** The main job, end to end: change a hook, see its effect, test it, save it, save a record with it. */

test.use({ ground: 'main-job' })

const HOOK = (digits: string) => `import { defineHook } from 'patient-hook'

export default defineHook({
  table: 'lot',
  moment: 'before-save',
  watch: ['gross_mass_g', 'tare_mass_g', 'species'],
  after: ['lot-from-collection'],
  each(row) {
    const { gross_mass_g: gross, tare_mass_g: tare } = row.now
    if (gross === null || tare === null) return
    ${digits}
  },
})
`

test('a changed hook shows in the sheet, runs its tests, and works on saved records', async ({ app: page }) => {
  await page.goto(new URL('/write/lot-mass', page.url()).href)
  const sheet = page.getByLabel('Effect sheet').first()
  await expect(sheet.getByRole('row').nth(1)).toContainText('200000')

  await test.step('the sheet follows the code', async () => {
    await writeCode(page, HOOK('row.now.net_mass_g = gross - tare + 1000'))
    await expect(sheet.getByRole('row').nth(1)).toContainText('1100')
    await expect(page.getByText('unsaved')).toBeVisible()
  })

  await test.step('an error is at its line', async () => {
    await writeCode(page, HOOK('row.now.net_mas_g = gross - tare'))
    const note = page.getByRole('alert')
    await expect(note).toContainText('lot has no field net_mas_g; did you mean net_mass_g?')
    await expect(note).toContainText('lot-mass.ts, line 11')
    await expect(page.locator('.cm-lint-marker-error')).toHaveCount(1)
  })

  await test.step('tests show differences', async () => {
    await writeCode(page, HOOK('row.now.net_mass_g = gross - tare + 1000'))
    await page.getByRole('button', { name: 'Run tests' }).click()
    await expect(page.locator('[data-test=summary]')).toContainText(/\d+ passed, [1-9]\d* failed/)
    await expect(page.locator('.panel .error').filter({ hasText: '1075' }).first()).toBeVisible()
  })

  await test.step('nothing is lost on reload', async () => {
    page.once('dialog', (dialog) => void dialog.accept())
    await page.reload()
    await expect(page.getByText('unsaved')).toBeVisible()
    await expect(page.locator('.cm-content')).toContainText('gross - tare + 1000')
  })

  await test.step('kept, it does not run on saves yet; released with a reason, it does', async () => {
    await page.getByRole('button', { name: 'Save hook' }).click()
    await expect(page.getByText('unsaved')).toBeHidden()
    await page.getByRole('link', { name: 'not released', exact: true }).click()
    await expect(page.getByLabel('Changed hooks')).toContainText('lot-mass')
    await expect(page.locator('[data-test=diff]')).toContainText('gross - tare + 1000')
    await page.getByRole('button', { name: 'Release vault 1.0.1 to everyone' }).click()
    const gate = page.getByRole('list', { name: 'Release checks' })
    await expect(gate).toContainText(/vault\/tests\/.*failed/, { timeout: 120_000 })
    await page.getByLabel('Override reason').fill('the scale shows a kilogram too little')
    await page.getByRole('button', { name: 'Release vault 1.0.1 to everyone' }).click()
    await expect(page.locator('[data-test=live]')).toContainText('1.0.1 is live', { timeout: 120_000 })
  })

  await test.step('a saved record has the value', async () => {
    await page.goto(new URL('/records/lot/3', page.url()).href)
    await page.locator('input[name=tare_mass_g]').fill('12')
    await expect(page.getByText(/set to 1003\.66.* by lot-mass/)).toBeVisible()
    await page.getByRole('button', { name: 'Save', exact: true }).click()
    await expect(page.locator('input[name=net_mass_g]')).toHaveValue(/^1003\.66/)
    await expect(page.getByText('vault/lot-mass@1.0.1').first()).toBeVisible()
  })
})

test('a refusal is at its field, and nothing is saved', async ({ app: page }) => {
  await page.goto(new URL('/records/lot/5', page.url()).href)
  const tare = page.locator('input[name=tare_mass_g]')
  await tare.fill('abc')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText(/tare_mass_g takes a number, but got text "abc"/).first()).toBeVisible()
  await page.goto(new URL('/records/request_line/new', page.url()).href)
  await page.getByRole('combobox', { name: 'Request *' }).fill('R-000002')
  await page.getByRole('option', { name: 'R-000002 (2)' }).click()
  await page.locator('input[name=packets]').fill('0')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Packets must be at least 1, but is 0').first()).toBeVisible()
})

test('the model shows tables, links both ways, and the readers and writers of each field; a label finds the name', async ({
  app: page,
}) => {
  await page.goto(new URL('/model/lot', page.url()).href)
  await expect(page.getByRole('table', { name: 'Fields' }).getByRole('row', { name: /^Net mass/ })).toContainText('net_mass_g')
  await expect(page.getByText('Linked from')).toContainText('request_line.lot')
  const matrix = page.getByLabel('Matrix').getByRole('row', { name: /lot-mass/ })
  await expect(matrix).toContainText('W')
  await choose(page.getByLabel('Plugin'), 'requests')
  await expect(matrix).toHaveCount(0)
  await page.getByLabel('Find a table or field').fill('seeds in all')
  await expect(page.getByLabel('Tables')).toContainText('request.total_seeds')
  await page.goto(new URL('/write/lot-mass', page.url()).href)
  await page.locator('.cm-line').last().click()
  await page.getByLabel('Insert a field by its label').fill('handling')
  await page.getByLabel('Insert a field by its label').press('Enter')
  await expect(page.locator('.cm-content')).toContainText('handling_notes')
  page.on('dialog', (dialog) => void dialog.accept())
})

test('choosing a station of the ribbon filters what is below', async ({ app: page }) => {
  await page.goto(new URL('/write/line-not-from-quarantine', page.url()).href)
  const sheet = page.getByLabel('Effect sheet').first()
  await choose(page.getByLabel('Rows of'), /^vault/)
  await expect(page.getByLabel('Save path')).toContainText(/refused \d+/)
  const all = await sheet.getByRole('row').count()
  await page
    .getByLabel('Save path')
    .getByRole('button', { name: /ripples/ })
    .click()
  await expect(page.getByRole('columnheader', { name: 'depth' })).toBeVisible()
  await expect(page.getByRole('gridcell', { name: 'lines-to-request' }).first()).toBeVisible()
  await page
    .getByLabel('Save path')
    .getByRole('button', { name: /ripples/ })
    .click()
  expect(await sheet.getByRole('row').count()).toBe(all)
})

test('an endless loop, typed, is an error and the next pause works', async ({ app: page }) => {
  await page.goto(new URL('/write/request-region', page.url()).href)
  const body = (line: string) =>
    `import { defineHook } from 'patient-hook'\nexport default defineHook({\n  table: 'request',\n  moment: 'before-save',\n  each(row) {\n    ${line}\n  },\n})\n`
  await writeCode(page, body('while (true) {}'))
  await expect(page.getByRole('alert')).toContainText('budget of 20000000 steps', { timeout: 45_000 })
  await expect(page.getByRole('alert')).toContainText('line 6')
  await writeCode(page, body("row.now.note = 'fine'"))
  await expect(page.getByRole('alert')).toHaveCount(0)
  await expect(page.getByLabel('Effect sheet').first()).toContainText('fine')
})

for (const look of ['paper', 'night'])
  test(`no accessibility violations on ${look}`, async ({ app: page }) => {
    await page.evaluate((dark) => localStorage.setItem('patient-hook:dark', String(dark)), look === 'night')
    for (const path of ['/model/lot', '/write/lot-mass', '/records/lot', '/records/lot/3']) {
      await page.goto(new URL(path, page.url()).href)
      await expect(page.locator('table tbody tr').first()).toBeVisible()
      expect(await violations(page), path).toEqual([])
    }
  })
