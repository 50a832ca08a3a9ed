import { expect, test, violations, writeCode } from './app.js'

/** Prove: the bulk proof of a hook, its evidence, and the smallest batch that breaks it. */

test.use({ ground: 'prove' })

test('a hook is proved, with its growth; a fault that is typed is found, and its batch opens as a rehearsal', async ({ app }) => {
  await app.keyboard.press('Alt+4')
  await app.getByRole('button', { name: 'lot-mass', exact: true }).click()
  await expect(app).toHaveURL(/\/prove\/lot-mass/)
  await app.getByRole('button', { name: 'Prove lot-mass' }).click()
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
  const code = await app.evaluate(async () => {
    const answer = await fetch('/api/file?path=plugins/vault/hooks/lot-mass.ts')
    return ((await answer.json()) as { text: string }).text
  })
  const cached = code
    .replace('export default', 'let first: number | null = null\n\nexport default')
    .replace('row.now.net_mass_g = Math.round((gross - tare) * 1000) / 1000', 'row.now.net_mass_g = first ??= gross - tare')
  await writeCode(app, cached)
  await app.keyboard.press('Alt+4')
  await app.getByRole('button', { name: 'lot-mass', exact: true }).click()
  await expect(app.getByText('The code has changed since: nothing of it is proved yet.')).toBeVisible()
  await app.getByRole('button', { name: 'Prove lot-mass' }).click()
  await expect(evidence.getByText(/net_mass_g = .*one by one net_mass_g = /).first()).toBeVisible()
  await expect(
    app.getByLabel('Hooks and what is proved of them').getByLabel('does not hold', { exact: true }).first(),
  ).toBeVisible()
  await evidence.getByRole('button', { name: 'Open as a rehearsal' }).first().click()
  await expect(app).toHaveURL(/\/rehearse\//)
  await expect(app.getByRole('region', { name: 'Row 2' })).toBeVisible()
  await expect(app.getByText('It would be kept. Nothing was.')).toBeVisible()
})

test('a proof is stopped', async ({ app }) => {
  await app.keyboard.press('Alt+4')
  await app.getByRole('button', { name: 'Prove all' }).click()
  await expect(app.locator('[data-test=progress]')).toContainText('properties')
  await app.getByRole('button', { name: 'Stop' }).click()
  await expect(app.getByText('Stopped. What had run by then stands below.')).toBeVisible()
})

test('small mistakes that no test noticed are told, and what shows one opens as a rehearsal', async ({ app }) => {
  await app.goto(new URL('/prove/line-care-level', app.url()).href)
  await app.getByRole('button', { name: 'Try line-care-level' }).click()
  const mistakes = app.getByLabel('Small mistakes')
  await expect(mistakes.getByText(/\d+ caught by tests, \d+ missed/)).toBeVisible()
  await expect(mistakes.getByText('first-for-all')).toBeVisible()
  await expect(app.locator('[data-test=progress]')).toHaveCount(0)
  expect(await violations(app)).toEqual([])
  await mistakes.getByRole('button', { name: 'Rehearse what shows it' }).first().click()
  await expect(app).toHaveURL(/\/rehearse\/request_line/)
  await expect(app.getByRole('region', { name: 'Row 1' })).toBeVisible()
})
