import type { Page } from '@playwright/test'
import { act, ask, choose, expect, test, violations } from './app'

/** From the working copy to live: the differences, the gate, pilots, the way back, switches. */

test.use({ ground: 'release' })

const FILE = 'plugins/requests/hooks/lot-copied.ts'
const at = (page: Page, path: string) => new URL(path, page.url()).href

/** Makes the hook say something else. */
async function write(page: Page, word: string): Promise<void> {
  const { text } = await ask<{ text: string }>(page, 'GET', `/file?path=${FILE}`)
  await ask(page, 'PUT', '/files', { files: { [FILE]: text.replace(/`[^`$]*\$/, `\`${word} \$`) } })
}
const copied = async (page: Page, user: string): Promise<string> => {
  const { records } = await ask<{ records: { handling_notes: string }[] }>(page, 'POST', '/saves', {
    user,
    rows: [{ table: 'lot', copyOf: 1, values: {} }],
  })
  return records[0]!.handling_notes
}
const live = (page: Page) => page.locator('[data-test=live]')

test('a hook that was changed is piloted, released, compared and rolled back', async ({ app: page }) => {
  await page.goto(at(page, '/release/requests'))
  await expect(page.getByText('No unreleased changes')).toBeVisible()
  await expect(live(page)).toContainText('1.0.0 is live since')

  await test.step('the differences', async () => {
    await write(page, 'a copy of')
    await page.reload()
    await expect(page.getByLabel('Changed hooks')).toContainText('lot-copied')
    await expect(page.locator('[data-test=diff]')).toContainText('a copy of')
    await expect(page.getByRole('navigation', { name: 'Plugins' })).toContainText('1 changed file')
  })

  await test.step('release checks run one at a time; the tests of the old behaviour fail', async () => {
    await page.getByRole('button', { name: 'Run release checks' }).click()
    const gate = page.getByRole('list', { name: 'Release checks' })
    await expect(gate.locator('.holds, .broken')).toHaveCount(6, { timeout: 180_000 })
    await expect(gate).toContainText('a copied lot is marked')
    await expect(page.getByRole('button', { name: 'Release requests 1.0.1' })).toBeDisabled()
  })

  await test.step('with a reason, to one user first', async () => {
    await page.getByLabel('Override reason').fill('the packers asked for it')
    await page.getByLabel('Pilot users first').check()
    await page.getByLabel('Ines Marl, requests desk').check()
    await page.getByLabel('Release note').fill('Says that it is a copy')
    await page.getByRole('button', { name: 'Release requests 1.0.1' }).click()
    await expect(page.getByText('1.0.1 is in pilot with ines')).toBeVisible()
    expect(await copied(page, 'ada')).toContain('copied from lot')
    expect(await copied(page, 'ines')).toContain('a copy of')
  })

  await test.step('both versions are compared by their figures', async () => {
    await page.getByRole('tab', { name: 'Hooks' }).click()
    await page.getByRole('button', { name: 'lot-copied', exact: true }).click()
    const doing = page.getByLabel('Performance of lot-copied')
    await expect(doing.getByRole('row', { name: /^1\.0\.0 1 1/ })).toBeVisible()
    await expect(doing.getByRole('row', { name: /^1\.0\.1 1 1/ })).toBeVisible()
  })

  await test.step('versions side by side; the pilot is opened to everyone', async () => {
    await page.getByRole('tab', { name: 'Versions' }).click()
    await expect(page.locator('[data-test=diff]')).toContainText('copied from lot')
    await page.getByRole('button', { name: 'Release to everyone' }).click()
    await expect(live(page)).toContainText('1.0.1 is live')
    expect(await copied(page, 'ada')).toContain('a copy of')
  })

  await test.step('back in one step', async () => {
    await page.getByRole('button', { name: 'Roll back to 1.0.0' }).click()
    await expect(live(page)).toContainText('1.0.2 is live')
    await expect(live(page)).toContainText('the text of 1.0.0')
    expect(await copied(page, 'ines')).toContain('copied from lot')
  })

  await test.step('a hook is switched off and on', async () => {
    await page.getByRole('tab', { name: 'Hooks' }).click()
    const turn = page.getByRole('switch', { name: 'lot-copied on saves' })
    await turn.click()
    await expect(turn).not.toBeChecked()
    expect(await copied(page, 'ada')).not.toContain('copied from lot')
    await turn.click()
    await expect(turn).toBeChecked()
    expect(await copied(page, 'ada')).toContain('copied from lot')
  })

  await test.step('all of it was written down', async () => {
    await page.getByRole('tab', { name: 'Activity' }).click()
    const rows = page.getByLabel('Activity', { exact: true }).getByRole('row')
    await expect(rows).toHaveCount(6)
    await expect(rows.nth(3)).toContainText('back')
    await expect(rows.nth(5)).toContainText('to ines; Says that it is a copy; the packers asked for it')
  })
})

test('the form of a record shows what a save will do, not what the working copy would', async ({ app: page }) => {
  const file = 'plugins/vault/hooks/lot-mass.ts'
  const { text } = await ask<{ text: string }>(page, 'GET', `/file?path=${file}`)
  await ask(page, 'PUT', '/files', { files: { [file]: text.replace('* 1000) / 1000', '* 1000) / 1000 + 500') } })
  await page.goto(at(page, '/records/lot/3'))
  await page.locator('input[name=tare_mass_g]').fill('12')
  await expect(page.getByText('set to 3.664 by lot-mass')).toBeVisible()
})

for (const look of ['paper', 'night'])
  test(`no accessibility violations on ${look}`, async ({ app: page }) => {
    await page.evaluate((dark) => localStorage.setItem('patient-hook:dark', String(dark)), look === 'night')
    await page.goto(at(page, '/release/requests'))
    for (const panel of ['Working copy', 'Versions', 'Hooks', 'Activity']) {
      await page.getByRole('tab', { name: panel }).click()
      expect(await violations(page), panel).toEqual([])
    }
  })

test('a hook gets another name, goes to another plugin, and goes', async ({ app: page }) => {
  await page.goto(at(page, '/release'))
  await test.step('a new plugin', async () => {
    await page.getByRole('button', { name: 'New plugin' }).click()
    await page.getByLabel('Name of the plugin').fill('labels')
    await page.getByRole('button', { name: 'Create plugin' }).click()
    await expect(page.getByRole('heading', { name: 'labels' })).toBeVisible()
  })
  await test.step('the name, wherever it is named', async () => {
    await page.goto(at(page, '/write/collection-number'))
    await act(page.getByRole('button', { name: 'Hook actions' }), 'Rename hook…')
    await page.getByLabel('New name of the hook').fill('collection-accession')
    await expect(page.getByRole('group', { name: 'Rename' })).toContainText('collection-label.ts')
    await page.getByRole('button', { name: 'Rename' }).click()
    await expect(page).toHaveURL(/write\/collection-accession$/)
    await page.goto(at(page, '/write/collection-label'))
    await expect(page.getByRole('textbox', { name: 'Code of the hook' })).toContainText(`after: ['collection-accession']`)
  })
  await test.step('to the other plugin, and both are released together', async () => {
    await act(page.getByRole('button', { name: 'Hook actions' }), 'Move to another plugin…')
    await choose(page.getByLabel('Plugin to move it to'), 'labels')
    await page.getByRole('button', { name: 'Move' }).click()
    await expect(page.getByText('plugins/labels/hooks/collection-label.ts')).toBeVisible()
    await page.goto(at(page, '/release/labels'))
    await expect(page.getByLabel('Changed hooks')).toContainText('collection-label')
    await page.getByRole('group', { name: 'Release together with' }).getByLabel('vault').check()
  })
  await test.step('removed, after it was said what goes with it', async () => {
    await page.goto(at(page, '/write/lot-quarantine-bay'))
    await act(page.getByRole('button', { name: 'Hook actions' }), 'Remove hook…')
    await expect(page.getByRole('group', { name: 'Remove' })).toContainText('plugins/vault/hooks/lot-quarantine-bay.ts goes.')
    await page.getByRole('button', { name: 'Remove' }).click()
    await expect(page.getByRole('navigation', { name: 'Hooks' }).getByText('lot-quarantine-bay')).toHaveCount(0)
  })
})

test('a module is made, used and removed; a fixture set goes', async ({ app: page }) => {
  await page.goto(at(page, '/write/request-region'))
  const files = page.getByRole('button', { name: 'Open file' })
  await act(files, 'New module…')
  await page.getByLabel('Name of the module').fill('region-words')
  await page.getByRole('button', { name: 'Create module' }).click()
  await expect(page.getByRole('textbox', { name: 'Code of the hook' })).toContainText('export function regionWords')
  await act(files, 'Remove lib/region-words.ts…')
  await page.getByRole('button', { name: 'Remove' }).click()
  await expect(page.getByRole('group', { name: 'Files' })).not.toContainText('region-words')
  await ask(page, 'PUT', '/files', { files: { 'fixtures/spare/site.json': '[]' } })
  await page.goto(at(page, '/fixtures/spare/site'))
  await page.getByRole('button', { name: 'Delete set' }).click()
  await page.getByRole('button', { name: 'Remove spare' }).click()
  await expect(page.getByRole('navigation', { name: 'Fixture sets' })).not.toContainText('spare')
})
