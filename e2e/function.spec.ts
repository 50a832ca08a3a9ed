import { choose, expect, test, violations } from './app.js'

/** Try a function: an exported function of lib, called with typed-in arguments, and kept as a test. */

test.use({ ground: 'function' })

test('a function is called while its arguments are typed, and kept as a test that was tried', async ({ app }) => {
  await app.goto(new URL('/write/lot-mass', app.url()).href)
  await app.getByRole('tab', { name: 'Try function' }).click()
  const panel = app.getByLabel('Try function', { exact: true })
  await choose(panel.getByLabel('Function', { exact: true }), /seedsInMass/)
  await expect(panel.getByText('Seeds in a mass, to the nearest whole seed.')).toBeVisible()
  await panel.getByLabel('netMass', { exact: true }).fill('25')
  await panel.getByLabel('thousandMass', { exact: true }).fill('0.5')
  await expect(panel.locator('[data-test=result]')).toHaveText('50000')
  await expect(panel.getByRole('table', { name: 'Lines' }).getByRole('row')).toContainText(['→ 50000'])
  await panel.getByLabel('netMass', { exact: true }).fill('heavy')
  await expect(panel.getByText('"heavy" is not a number')).toBeVisible()
  await panel.getByLabel('netMass', { exact: true }).fill('25')
  expect(await violations(app)).toEqual([])
  await panel.getByRole('button', { name: 'Save as test' }).click()
  const keep = app.getByLabel('Save as test', { exact: true }).last()
  await keep.getByPlaceholder('ten grams of fine seed').fill('Fine seed in twenty-five grams')
  await keep.getByRole('button', { name: 'Create test' }).click()
  await expect(keep.getByText(/It passes, and fails without\s+seedsInMass/)).toBeVisible()
  await expect(keep.getByText('expect(seedsInMass(25, 0.5)).toBe(50000)')).toBeVisible()
  await keep.getByRole('button', { name: 'Save test' }).click()
  await expect(app.getByText('plugins/vault/tests/fine-seed-in-twenty-five-grams.test.ts')).toBeVisible()
})

test('a list is typed item by item, and what is thrown is reported with its line', async ({ app }) => {
  await app.goto(new URL('/write/lot-mass?file=plugins/vault/lib/thousand-seed.ts', app.url()).href)
  await app.getByRole('tab', { name: 'Try function' }).click()
  const panel = app.getByLabel('Try function', { exact: true })
  await choose(panel.getByLabel('Function', { exact: true }), /thousandSeedMass/)
  await panel.getByLabel('replicates 1', { exact: true }).fill('0.5')
  await panel.getByRole('button', { name: 'Add to replicates' }).click()
  await panel.getByLabel('replicates 2', { exact: true }).fill('0.7')
  await expect(panel.locator('[data-test=result]')).toHaveText('6')
  await app.evaluate(async (path) => {
    const { text } = (await (await fetch(`/api/file?path=${path}`)).json()) as { text: string }
    const edited = text.replace('return mean(replicates) * 10', `throw new Error('not weighed yet')`)
    localStorage.setItem('patient-hook:drafts', JSON.stringify({ [path]: edited }))
  }, 'plugins/vault/lib/thousand-seed.ts')
  await app.reload()
  await app.getByRole('tab', { name: 'Try function' }).click()
  await expect(panel.getByText('not weighed yet').first()).toBeVisible()
  await expect(panel.getByText(/thousand-seed\.ts, line 10|thousand-seed\.ts:10/).first()).toBeVisible()
})
