import { act, expect, test, writeCode } from './app'

/** Unit tests as a job: results as they come, a run that is stopped, a run that is found again. */

const tests = (body: string) =>
  `import { test, expect } from 'patient-hook/test'\ntest('one', () => { expect(1).toBe(1) })\ntest('two', () => { ${body} })\n`

test('a run is watched, found again after a reload, and stopped', async ({ app: page }) => {
  await page.goto(new URL('/write/lot-mass', page.url()).href)
  await page.getByRole('button', { name: 'Run tests' }).click()
  await expect(page.locator('[data-test=summary]')).toContainText('0 failed')
  await expect(page.locator('[data-test=progress]')).toHaveCount(0)
  const summary = await page.locator('[data-test=summary]').textContent()

  await page.reload()
  await page.getByRole('tab', { name: 'Tests' }).click()
  await expect(page.locator('[data-test=summary]')).toHaveText(summary!)

  await act(page.getByRole('button', { name: 'Open file' }), 'tests/lots.test.ts')
  await expect(page.getByRole('textbox', { name: 'Code of the hook' })).toContainText('describe')
  // It computes for as long as the engine lets it, which is long enough to be stopped.
  await writeCode(page, tests(`for (let i = 0; i < 1e9; i++) { Math.max(i)\\n Math.min(i) }`.replace('\\n', '\n')))
  await page.getByRole('button', { name: 'Run tests' }).click()
  await expect(page.getByRole('listitem').filter({ hasText: 'one' }).first()).toBeVisible()
  await page.getByRole('button', { name: 'Stop' }).click()
  await expect(page.getByText('stopped. Results so far are below.')).toBeVisible()
  await expect(page.getByRole('listitem').filter({ hasText: 'one' }).first()).toBeVisible()
})

test('only what a text names, and only what a change of the hook may concern', async ({ app: page }) => {
  await page.evaluate(() => localStorage.setItem('patient-hook:drafts', '{}'))
  await page.goto(new URL('/write/collection-label', page.url()).href)
  await page.getByRole('tab', { name: 'Tests' }).click()
  const list = page.getByRole('list', { name: 'Tests' })
  await page.getByLabel('Filter', { exact: true }).fill('takes district')
  await page.keyboard.press('Enter')
  await expect(list.getByRole('listitem')).toHaveCount(1)
  await expect(page.locator('[data-test=summary]')).toHaveText('1 passed, 0 failed')
  await page.getByLabel('Filter', { exact: true }).fill('')
  await page.getByLabel('only tests affected by collection-label').check()
  await page.getByRole('button', { name: 'Run', exact: true }).click()
  await expect(page.locator('[data-test=progress]')).toHaveCount(0)
  await expect(list.getByText('a new collection › may have no site')).toBeVisible()
  await expect(list.getByText('thousand-seed mass › is the mean')).toHaveCount(0)
})
