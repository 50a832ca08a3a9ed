import type { Page } from '@playwright/test'
import { act, ask, choose, expect, test, violations, writeCode } from './app'

/** The day's work in Write: values beside the code, a new hook, several files, moving about in them. */

const open = (page: Page, path: string) => page.goto(new URL(path, page.url()).href)
const code = (page: Page) => page.locator('.cm-content')
const lineOf = (page: Page, text: string) => page.locator('.cm-line', { hasText: text })
const valueBeside = (page: Page, text: string) => lineOf(page, text).locator('.cm-lineValue')
const sheetRow = (page: Page, index: number) => page.getByLabel('Effect sheet').first().getByRole('row').nth(index)

test.use({ ground: 'write' })

test.beforeEach(({ app: page }) => {
  page.on('dialog', (dialog) => void dialog.accept())
})
test.afterEach(async ({ app: page }) => {
  await page.evaluate(() => localStorage.clear())
})

test('values appear beside each line, for the row that is chosen; a cell shows its line, a line its cells', async ({
  app: page,
}) => {
  await open(page, '/write/lot-mass')
  await expect(valueBeside(page, 'row.now.net_mass_g =')).toHaveText('net_mass_g = 100')
  await expect(valueBeside(page, 'store.byId(')).toContainText('3 found')

  await page.getByRole('button', { name: 'Show values of lot 3 in the code' }).click()
  await expect(valueBeside(page, 'row.now.net_mass_g =')).toHaveText('net_mass_g = 150')

  await sheetRow(page, 2).getByRole('gridcell', { name: '100000' }).click()
  await expect(page.locator('.cm-chosenLine')).toContainText('row.now.seed_estimate =')
  await expect(page.getByText(/lot-mass\.ts, line \d+/)).toBeVisible()
  await test.step('by keys too', async () => {
    await page.keyboard.press('ArrowDown')
    await expect(page.getByRole('status', { name: 'Selected cell' })).toContainText('lot 3.seed_estimate')
    await page.keyboard.press('ArrowLeft')
    await expect(page.getByRole('status', { name: 'Selected cell' })).toContainText('lot 3.net_mass_g')
    await expect(page.locator('.cm-chosenLine')).toContainText('row.now.net_mass_g =')
  })

  await lineOf(page, 'row.now.net_mass_g =').click()
  await expect(page.locator('td.here')).toHaveText(['H 100', 'H 50', 'H 150', 'H 1200'])
})

test('a loop has its count, with first and last values', async ({ app: page }) => {
  await open(page, '/write/lot-mass')
  await writeCode(
    page,
    `import { defineHook } from 'patient-hook'\n\nexport default defineHook({\n  table: 'lot',\n  moment: 'before-save',\n  each(row) {\n    let sum = 0\n    for (const part of [3, 4, 5]) {\n      sum += part\n    }\n    row.now.net_mass_g = sum\n  },\n})\n`,
  )
  await expect(valueBeside(page, 'for (const part')).toHaveText('×3 · part 3 … 5')
  await expect(valueBeside(page, 'sum += part')).toHaveText('sum 3 … 12')
  await expect(valueBeside(page, 'row.now.net_mass_g = sum')).toHaveText('net_mass_g = 12')
})

test('a recipe writes a hook and its test, shown at work before anything is saved, and the test passes', async ({
  app: page,
}) => {
  await open(page, '/write/lot-mass')
  await page.getByRole('button', { name: 'New hook' }).click()
  const form = page.getByRole('form', { name: 'New hook' })
  await form.getByText('Default when empty').click()
  await expect(form.getByRole('button', { name: 'Create hook' })).toBeDisabled()
  await form.getByLabel('Field', { exact: true }).fill('Handling')
  await page.getByRole('option', { name: 'Handling notes' }).click()
  await form.getByLabel('Value', { exact: true }).fill('handle with care')
  await expect(form.getByLabel('Hook', { exact: true })).toContainText("row.now.handling_notes ??= 'handle with care'")
  expect(await violations(page)).toEqual([])
  await form.getByRole('button', { name: 'Create hook' }).click()
  await expect(page).toHaveURL(/\/write\/lot-default-when-empty/)
  await expect(sheetRow(page, 1)).toContainText('handle with care')
  expect((await ask<{ hooks: { name: string }[] }>(page, 'GET', '/project')).hooks.map(({ name }) => name)).not.toContain(
    'lot-default-when-empty',
  )
  await page.getByRole('button', { name: 'Save 2 files' }).click()
  await expect(page.getByText('not released')).toBeVisible()
  await page.getByRole('button', { name: 'Run tests' }).click()
  await expect(page.getByText('Handling notes gets its default when it is empty')).toBeVisible()
  await page.getByRole('tab', { name: 'Problems' }).click()
  await expect(page.getByText('Analyzing…')).toHaveCount(0)
  expect(await violations(page)).toEqual([])
  await page.getByRole('tab', { name: 'Search' }).click()
  await page.getByLabel('Search', { exact: true }).fill('handling_notes')
  await expect(page.getByLabel('Matches').getByRole('button').first()).toBeVisible()
  expect(await violations(page)).toEqual([])
})

test('a new hook is asked for what it needs, works as written, and form and code follow each other', async ({ app: page }) => {
  await open(page, '/write/lot-mass')
  await page.getByRole('button', { name: 'New hook' }).click()
  await page.getByRole('form', { name: 'New hook' }).getByText('Empty hook').click()
  await page.getByRole('form', { name: 'New hook' }).getByLabel('Name').fill('lot-mass')
  await expect(page.getByRole('alert')).toContainText('A hook with that name already exists')
  await page.getByRole('form', { name: 'New hook' }).getByLabel('Name').fill('lot-bay-caps')
  await page.getByRole('button', { name: 'Create hook' }).click()
  await expect(page).toHaveURL(/\/write\/lot-bay-caps/)
  await expect(sheetRow(page, 1)).toContainText('ran')

  await test.step('the form changes the code', async () => {
    await page.getByLabel('Watch bay').check()
    await page.getByRole('checkbox', { name: 'create' }).uncheck()
    await expect(code(page)).toContainText("watch: ['bay']")
    await expect(code(page)).toContainText("on: ['update']")
    await choose(page.getByLabel('Moment'), 'after-save')
    await expect(code(page)).toContainText('Ask for effects')
    await choose(page.getByLabel('Moment'), 'before-save')
  })
  await test.step('the code changes the form', async () => {
    await writeCode(
      page,
      `import { defineHook } from 'patient-hook'\nexport default defineHook({ table: 'lot', moment: 'before-save', watch: ['bay', 'alarm'],\n  each(row) { row.now.bay = row.now.bay?.toUpperCase() ?? null } })\n`,
    )
    await expect(page.getByLabel('Watch alarm')).toBeChecked()
    await expect(page.getByRole('checkbox', { name: 'create' })).toBeChecked()
  })
  await test.step('a reload loses nothing', async () => {
    await page.reload()
    await expect(page.getByRole('link', { name: /lot-bay-caps/ })).toBeVisible()
    await expect(code(page)).toContainText('toUpperCase')
  })
  await test.step('saving formats it; released, it runs', async () => {
    await page.getByRole('button', { name: 'Save hook' }).click()
    await expect(page.getByText('unsaved')).toBeHidden()
    await expect(lineOf(page, "table: 'lot',")).toHaveText("  table: 'lot',")
    const wish = { plugin: 'vault', reason: 'a test of writing', withoutGate: true }
    const { id } = await ask<{ id: string }>(page, 'POST', '/releases', wish)
    await expect.poll(async () => (await ask<{ job: { state: string } }>(page, 'GET', `/jobs/${id}`)).job.state).toBe('done')
    await open(page, '/records/lot/4')
    await page.locator('input[name=bay]').fill('c7')
    await expect(page.getByText(/lot-bay-caps replaces this with C7/)).toBeVisible()
  })
})

test('modules and tests open in tabs; undo is per file; F12 goes to the definition, F2 renames in the whole plugin', async ({
  app: page,
}) => {
  await open(page, '/write/lot-mass')
  const toImport = async () => {
    await lineOf(page, 'import { seedsInMass').click()
    await page.keyboard.press('Home')
    for (let i = 0; i < 'import { see'.length; i++) await page.keyboard.press('ArrowRight')
  }
  await act(page.getByRole('button', { name: 'Open file' }), 'lib/thousand-seed.ts')
  await expect(code(page)).toContainText('Thousand-seed mass')
  await lineOf(page, 'Thousand-seed mass and what follows').click()
  await page.keyboard.press('End')
  await page.keyboard.type(' Indeed.')
  await page.getByRole('button', { name: 'hooks/lot-mass.ts' }).click()
  await expect(code(page)).toContainText('defineHook')
  await lineOf(page, "table: 'lot'").click()
  await page.keyboard.press('End')
  await page.keyboard.type(' // here')
  await page.getByRole('button', { name: /^lib\/thousand-seed.ts/ }).click()
  await expect(code(page)).toContainText('Indeed')
  await page.keyboard.press('Control+z')
  await code(page).click()
  await page.keyboard.press('Control+z')
  await expect(code(page)).not.toContainText('Indeed')
  await page.getByRole('button', { name: /^hooks\/lot-mass.ts/ }).click()
  await expect(code(page)).toContainText('// here')

  await test.step('F12', async () => {
    await toImport()
    await page.keyboard.press('F12')
    await expect(page).toHaveURL(/file=plugins\/vault\/lib\/thousand-seed\.ts/)
    await expect(code(page)).toContainText('Thousand-seed mass')
    await page.getByRole('button', { name: /^hooks\/lot-mass.ts/ }).click()
    await expect(code(page)).toContainText('defineHook')
  })
  await test.step('F2', async () => {
    await toImport()
    await page.keyboard.press('F2')
    await page.getByLabel('New name').fill('no name')
    await page.keyboard.press('Enter')
    await expect(page.locator('.rename-panel')).toContainText('cannot be a name')
    await page.getByLabel('New name').fill('seedsWithin')
    await page.keyboard.press('Enter')
    await expect(page.locator('.rename-panel')).toHaveCount(0)
    await expect(code(page)).toContainText('import { seedsWithin }')
    await page.getByRole('button', { name: /^lib\/thousand-seed.ts/ }).click()
    await code(page).click()
    await page.keyboard.press('Control+End')
    await expect(code(page)).toContainText('function seedsWithin(')
    // The hook, the module, and the test that imports it, though that has no tab.
    await page.getByRole('button', { name: 'Save 3 files' }).click()
    await expect(page.getByText('unsaved')).toBeHidden()
  })
  await test.step('a field leads to the model', async () => {
    await page.getByRole('button', { name: /^hooks\/lot-mass.ts/ }).click()
    await lineOf(page, 'row.now.net_mass_g =').click()
    await page.keyboard.press('Home')
    for (let i = 0; i < 'row.now.net'.length; i++) await page.keyboard.press('ArrowRight')
    await page.keyboard.press('F12')
    await expect(page).toHaveURL(/\/model\/lot#net_mass_g/)
  })
})

test('what a call takes is shown while it is typed', async ({ app: page }) => {
  await open(page, '/write/lot-mass')
  await writeCode(
    page,
    `import { defineHook } from 'patient-hook'\nexport default defineHook({\n  table: 'lot',\n  moment: 'before-save',\n  each(row) {\n    void row\n  },\n})\n`,
  )
  await lineOf(page, 'void row').click()
  await page.keyboard.press('End')
  await page.keyboard.press('Enter')
  await page.keyboard.type('row.refuse(')
  await expect(page.locator('.language-hover b')).toContainText('field:')
  await page.keyboard.type("'bay', ")
  await expect(page.locator('.language-hover b')).toHaveText('message: string')
  await page.keyboard.press('Escape')
  await expect(page.locator('.language-hover')).toHaveCount(0)
})

test('the sheet has the fields that anything happened to; all of them when they are wanted, with what is in them', async ({
  app: page,
}) => {
  await open(page, '/write/lot-mass')
  await choose(page.getByLabel('Rows of'), /^vault/)
  await choose(page.getByLabel('Saved'), 'with a changed field')
  await choose(page.getByLabel('Changed field'), /Tare mass/)
  const head = sheetRow(page, 0)
  await expect(sheetRow(page, 1)).toContainText('→')
  await expect(head).toContainText('net_mass_g')
  await expect(head).not.toContainText('accession')
  await page.getByLabel('all fields').check()
  await expect(head).toContainText('accession')
  await expect(sheetRow(page, 1)).toContainText('HV-00000001')
  await page.getByLabel('all fields').uncheck()
  await expect(head).not.toContainText('accession')
})

test('the sheet also runs on live records, and keeps none of it', async ({ app: page }) => {
  await open(page, '/write/lot-mass')
  await choose(page.getByLabel('Rows of'), 'the live records')
  await choose(page.getByLabel('Saved'), 'with a changed field')
  await choose(page.getByLabel('Changed field'), /Tare mass/)
  await expect(sheetRow(page, 1)).toContainText('→')
  const before = await page.request.get(new URL('/api/tables/lot/records/1', page.url()).href)
  await writeCode(
    page,
    `import { defineHook } from 'patient-hook'\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { row.now.bay = 'Z9' } })\n`,
  )
  await expect(sheetRow(page, 1)).toContainText('Z9')
  const after = await page.request.get(new URL('/api/tables/lot/records/1', page.url()).href)
  expect(await after.json()).toEqual(await before.json())
})

test('of records that are removed nothing is shown to be set: what they held goes with them', async ({ app: page }) => {
  await open(page, '/write/lot-mass')
  await expect(sheetRow(page, 1).locator('[title="set by a hook"]')).not.toHaveCount(0)
  await choose(page.getByLabel('Saved'), 'as deletions')
  const mass = sheetRow(page, 1).getByRole('gridcell', { name: '112 → —' })
  await expect(mass).toBeVisible()
  await expect(page.getByLabel('Effect sheet').first().locator('[title="set by a hook"]')).toHaveCount(0)
  await mass.click()
  await expect(page.getByRole('status', { name: 'Selected cell' })).toContainText('removed with its record')
})
