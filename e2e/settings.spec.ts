import { act, ask, expect, test, violations } from './app'

/** What holds for the whole project and for a hook in its plugin.json, set in the application. */

test.use({ ground: 'settings' })

interface Project {
  title: string
  sequences: string[]
  hooks: { name: string; state: { state: string } }[]
}

test('title, users, sequences and release checks are saved to project.json, and what is wrong is refused', async ({
  app: page,
}) => {
  await page.goto(new URL('/settings', page.url()).href)
  const save = page.getByRole('button', { name: 'Save settings' })
  await expect(save).toBeDisabled()
  await page.getByLabel('Title', { exact: true }).fill('Hollin Moor')
  await page.getByRole('button', { name: 'Add sequence' }).click()
  await page.getByLabel('Name of sequence 6').fill('not a name')
  await save.click()
  await expect(page.getByRole('alert').first()).toContainText('a sequence has a name of letters, digits')
  expect((await ask<Project>(page, 'GET', '/project')).title).toBe('Hollin Moor Seed Vault')
  await page.getByLabel('Name of sequence 6').fill('parcel')
  await page.getByLabel('Prefix of parcel').fill('P-')
  await page.getByLabel('Digits of parcel').fill('4')
  await expect(page.getByText('P-0001')).toBeVisible()
  expect(await violations(page)).toEqual([])
  await save.click()
  await expect(page.getByText('Saved the project settings')).toBeVisible()
  const project = await ask<Project>(page, 'GET', '/project')
  expect(project.title).toBe('Hollin Moor')
  expect(project.sequences).toContain('parcel')
})

test('a hook is piloted from its place in Write, and that is undone from the notice', async ({ app: page }) => {
  const stateOf = async () =>
    (await ask<Project>(page, 'GET', '/project')).hooks.find(({ name }) => name === 'lot-mass')?.state.state
  await page.goto(new URL('/write/lot-mass', page.url()).href)
  await act(page.getByRole('button', { name: 'Hook actions' }), 'Live for…')
  const form = page.getByRole('form', { name: 'Live for' })
  await form.getByLabel('pilot users').check()
  await form.locator('.v-select .v-field').click()
  await page.getByRole('option', { name: 'Bram Holt, vault keeper' }).click()
  await page.keyboard.press('Escape')
  await form.getByRole('button', { name: 'Save' }).click()
  await expect.poll(stateOf).toBe('pilot')
  await expect(page.getByTitle('pilot: bram')).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).last().click()
  await expect.poll(stateOf).toBe('live')
})
