import { expect, test, violations } from './app'

/** Everything by its name, from anywhere. */

test('a hook, a field, a record and a command are found by a part of their names, by keys alone', async ({ app }) => {
  await app.goto(new URL('/records/lot', app.url()).href)
  await expect(app.getByRole('grid')).toBeVisible()
  const finder = app.getByRole('dialog', { name: 'Search or run' })
  const find = async (typed: string, option: string | RegExp) => {
    await app.keyboard.press('Control+k')
    await expect(finder).toBeVisible()
    await app.keyboard.type(typed)
    await expect(finder.getByRole('option').first()).toContainText(option)
  }
  await find('lot-mass', 'lot-mass')
  expect(await violations(app)).toEqual([])
  await app.keyboard.press('Enter')
  await expect(app).toHaveURL(/\/write\/lot-mass$/)
  await find('seeds, est', 'Seeds, estimated')
  await app.keyboard.press('Enter')
  await expect(app).toHaveURL(/\/model\/lot#seed_estimate$/)
  await find('HV-00000012', 'HV-00000012')
  await app.keyboard.press('Enter')
  await expect(app).toHaveURL(/\/records\/lot\/12$/)
  await find('new partner', 'New Partner')
  await app.keyboard.press('Enter')
  await expect(app).toHaveURL(/\/records\/partner\/new$/)
  await app.keyboard.press('Control+k')
  await app.keyboard.type('zzzz')
  await expect(finder.getByText('No results.')).toBeVisible()
  await app.keyboard.press('Escape')
  await expect(finder).toHaveCount(0)
})
