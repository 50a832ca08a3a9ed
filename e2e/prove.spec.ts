import type { Page } from '@playwright/test'
import { expect, test, violations, writeCode } from './app.js'

/** Prove: what is measured of each hook, its evidence, and that nothing is shown of code that it was not measured on. */

test.use({ ground: 'prove' })

/** Only these parts are measured. */
async function only(app: Page, ...parts: string[]): Promise<void> {
  for (const part of ['findings', 'tests and coverage', 'mutations', 'bulk proof'])
    await app.getByLabel(part, { exact: true }).setChecked(parts.includes(part))
}
const figure = (app: Page, hook: string, part: string) =>
  app
    .getByRole('row')
    .filter({ has: app.getByRole('button', { name: hook, exact: true }) })
    .locator(`[data-part=${part}]`)
const atRest = (app: Page) => expect(app.locator('[data-test=progress]')).toHaveCount(0)

test('a hook is proved, with its growth; a fault that is typed is found, and its batch opens as a rehearsal', async ({ app }) => {
  await app.keyboard.press('Alt+5')
  await app.getByRole('button', { name: 'lot-mass', exact: true }).click()
  await expect(app).toHaveURL(/\/prove\/lot-mass/)
  await only(app, 'bulk proof')
  await app.getByRole('button', { name: 'Run proofs of lot-mass' }).click()
  const evidence = app.getByLabel('Evidence')
  await expect(app.getByText(/^8 hold, 0 accepted/)).toBeVisible()
  await expect(evidence.getByText('2,000 rows fit into the budget.')).toBeVisible()
  await expect(evidence.getByText(/Steps: grows like the rows/)).toBeVisible()
  for (const dark of [false, true]) {
    await app.evaluate((value) => localStorage.setItem('patient-hook:dark', String(value)), dark)
    await app.reload()
    // What was measured is there again.
    await expect(evidence.getByText('2,000 rows fit into the budget.')).toBeVisible()
    expect(await violations(app)).toEqual([])
  }
  await app.evaluate(() => localStorage.setItem('patient-hook:dark', 'false'))

  await app.goto(new URL('/write/lot-mass', app.url()).href)
  const code = await codeOf(app, 'plugins/vault/hooks/lot-mass.ts')
  const cached = code
    .replace('export default', 'let first: number | null = null\n\nexport default')
    .replace('row.now.net_mass_g = Math.round((gross - tare) * 1000) / 1000', 'row.now.net_mass_g = first ??= gross - tare')
  await writeCode(app, cached)
  await app.keyboard.press('Alt+5')
  await app.getByRole('button', { name: 'lot-mass', exact: true }).click()
  await expect(app.getByText('The code changed. Its proofs have not run yet.')).toBeVisible()
  await app.getByRole('button', { name: 'Run proofs of lot-mass' }).click()
  await expect(evidence.getByText(/net_mass_g = .*one at a time net_mass_g = /).first()).toBeVisible()
  await expect(app.getByLabel('Proof of each hook').getByLabel('fails', { exact: true }).first()).toBeVisible()
  await evidence.getByRole('button', { name: 'Open as a rehearsal' }).first().click()
  await expect(app).toHaveURL(/\/rehearse\//)
  await expect(app.getByRole('region', { name: 'Row 2' })).toBeVisible()
  await expect(app.getByText('This save would succeed. No changes were stored.')).toBeVisible()
})

const HOOK = 'plugins/requests/hooks/lot-quarantine-told.ts'
const codeOf = (app: Page, file: string) =>
  app.evaluate(async (path) => {
    const answer = await fetch(`/api/file?path=${path}`)
    return ((await answer.json()) as { text: string }).text
  }, file)

test('a proof is stopped', async ({ app }) => {
  await app.keyboard.press('Alt+5')
  await only(app, 'bulk proof')
  await app.getByRole('button', { name: 'Run all proofs' }).click()
  await expect(app.locator('[data-test=progress]')).toContainText('properties')
  await app.getByRole('button', { name: 'Stop' }).click()
  await expect(app.getByText('stopped. Results so far are below.')).toBeVisible()
})

test('mutations that no test noticed are reported, and what shows one opens as a rehearsal', async ({ app }) => {
  // Without the tests that look closely.
  await app.evaluate(() => {
    const text = `import { test, expect } from 'patient-hook/test'\ntest('one', () => expect(1).toBe(1))\n`
    localStorage.setItem('patient-hook:drafts', JSON.stringify({ 'plugins/vault/tests/closely.test.ts': text }))
  })
  await app.goto(new URL('/prove/line-care-level', app.url()).href)
  await only(app, 'mutations')
  await app.getByRole('button', { name: 'Run proofs of line-care-level' }).click()
  const mistakes = app.getByLabel('Mutations')
  await expect(mistakes.getByText(/\d+ caught by tests, \d+ survived/)).toBeVisible()
  await expect(mistakes.getByText('first-for-all')).toBeVisible()
  await expect(app.locator('[data-test=progress]')).toHaveCount(0)
  expect(await violations(app)).toEqual([])
  await mistakes.getByRole('button', { name: 'Open as a rehearsal' }).first().click()
  await expect(app).toHaveURL(/\/rehearse\/request_line/)
  await expect(app.getByRole('region', { name: 'Row 1' })).toBeVisible()
  await app.evaluate(() => localStorage.setItem('patient-hook:drafts', '{}'))
})

test('a line tells of findings, tests and coverage; a failed test of what its saves did; lines of code of the tests that run them', async ({
  app,
}) => {
  await app.goto(new URL('/prove/lot-quarantine-told', app.url()).href)
  await only(app, 'findings', 'tests and coverage')
  await app.getByRole('button', { name: 'Run proofs of lot-quarantine-told' }).click()
  await expect(figure(app, 'lot-quarantine-told', 'statements')).toHaveText('100 %')
  await expect(figure(app, 'lot-quarantine-told', 'findings')).toHaveText('0')
  await atRest(app)
  await app.getByRole('tab', { name: 'Tests' }).click()
  await expect(app.getByLabel('Evidence', { exact: true }).getByRole('listitem').first()).toContainText('ms')
  await app.getByRole('tab', { name: 'Coverage' }).click()
  await app.getByRole('button', { name: 'Show in the editor' }).click()
  await expect(app).toHaveURL(/\/write\/lot-quarantine-told/)
  await expect(app.locator('.cm-coverage .cm-run').first()).toBeVisible()
  await expect(app.getByText(/^run \d+ times? by \d+ tests?/)).toBeVisible()
  expect(await violations(app)).toEqual([])

  // Other code: nothing is shown of it until it is measured.
  await writeCode(app, (await codeOf(app, HOOK)).replace('This lot is', 'This lot was'))
  await expect(app.locator('.cm-coverage .cm-covered')).toHaveCount(0)
  await app.keyboard.press('Alt+5')
  await expect(app.getByText('The code changed. Its proofs have not run yet.')).toBeVisible()
  await app.getByRole('button', { name: 'lot-quarantine-told', exact: true }).click()
  await app.getByRole('button', { name: 'Run proofs of lot-quarantine-told' }).click()
  await expect(figure(app, 'lot-quarantine-told', 'tests')).toContainText('failed')
  await atRest(app)
  const tests = app.getByRole('list', { name: 'Tests' })
  await expect(tests.getByText('expected', { exact: true }).first()).toBeVisible()
  await tests
    .getByText(/Saves: \d+ stations? ran/)
    .first()
    .click()
  await expect(tests.getByText('ran lot-quarantine-told on lot').first()).toBeVisible()
  await expect(tests.getByText(/lot-quarantine-told: children request_line/).first()).toBeVisible()
  expect(await violations(app)).toEqual([])

  await app.evaluate(() => localStorage.setItem('patient-hook:drafts', '{}'))
})
