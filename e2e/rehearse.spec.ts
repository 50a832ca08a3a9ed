import { readFileSync } from 'node:fs'
import { choose, expect, test, violations } from './app.js'

/** Rehearse: a real run that is not kept, read from top to bottom, stepped through, compared, and kept as a test. */

test.use({ ground: 'rehearse' })
const at = (path: string, url: string) => new URL(path, url).href

test('a pretended change shows what hooks would set, in its field, with the hook’s name', async ({ app }) => {
  await app.keyboard.press('Alt+4')
  await expect(app.getByText('No rows yet')).toBeVisible()
  await choose(app.getByLabel('Table', { exact: true }), 'Lot')
  await app.getByLabel('Search the records').fill('00000001')
  await app
    .getByRole('navigation', { name: 'Records to rehearse with' })
    .getByRole('button', { name: /HV-00000001/ })
    .click()
  const row = app.getByRole('region', { name: 'Row 1' })
  await row.getByLabel('Gross mass (g)').fill('40')
  await expect(row.getByText('set to 28 by lot-mass')).toBeVisible()
  const run = app.getByLabel('The run', { exact: true })
  await expect(run.getByLabel('Verdicts')).toContainText('lot-accession')
  await expect(run.getByLabel('Verdicts')).toContainText('the guard returned false: row.now.accession === null')
  await expect(run.getByLabel('Look-ups')).toContainText('byId species')
  // From a look-up to the records that it found.
  await run.getByLabel('Look-ups').getByRole('button', { name: '1 found in species' }).click()
  await expect(run.getByRole('table', { name: 'Found species records' })).toContainText('thousand_seed_mass_g')
  await expect(run.getByLabel('Lines')).toContainText('gross = 40 · tare = 12')
  await expect(app.getByText('This save would succeed. No changes were stored.')).toBeVisible()
  await expect(app).toHaveURL(/\/rehearse\/lot\/1\?on=base/)
  // A station filters what is below it.
  await app
    .getByLabel('Save path')
    .getByRole('button', { name: /after-save/ })
    .click()
  await expect(run.getByLabel('Verdicts')).not.toContainText('lot-accession')
  await expect(run.getByLabel('Verdicts')).toContainText('lot-notes-to-siblings')
})

test('a value that is copied through a link is seen the moment the link is chosen, and what is overwritten beside what was typed', async ({
  app,
}) => {
  await app.goto(at('/rehearse/lot/new?on=base', app.url()))
  const row = app.getByRole('region', { name: 'Row 1' })
  await row.getByRole('combobox', { name: 'Collection' }).click()
  await app.getByRole('option', { name: /HW-00000001/ }).click()
  await expect(row.getByText(/by lot-from-collection/).first()).toBeVisible()
  await row.getByLabel('Gross mass (g)').fill('20')
  await row.getByLabel('Tare mass (g)').fill('5')
  await row.getByLabel('Net mass (g)').fill('99')
  await expect(row.getByText('lot-mass replaces this with 15')).toBeVisible()
})

test('a refusal is at its field, and the run says where it comes from', async ({ app }) => {
  await app.goto(at('/rehearse/request_line/new?on=base', app.url()))
  const row = app.getByRole('region', { name: 'Row 1' })
  await row.getByRole('combobox', { name: 'Request' }).click()
  await app.getByRole('option', { name: /R-000001/ }).click()
  await row.getByRole('combobox', { name: 'Lot' }).click()
  await app.getByRole('option', { name: /HV-00000003/ }).click()
  await expect(row.getByText(/× lot HV-00000003 is in quarantine/)).toBeVisible()
  await app.getByLabel('Refusals').getByRole('button', { name: 'line-not-from-quarantine' }).click()
  await expect(app).toHaveURL(/\/write\/line-not-from-quarantine/)
})

test('a document: a new header with a new line in one save', async ({ app }) => {
  await app.goto(at('/rehearse/request/new?on=base', app.url()))
  await app.getByRole('region', { name: 'Row 1' }).getByRole('button', { name: 'Request line', exact: true }).click()
  const line = app.getByRole('region', { name: 'Row 2' })
  await expect(line.getByLabel('Request *')).toHaveValue('row 1 of this save')
  await app.getByRole('region', { name: 'Row 1' }).getByRole('combobox', { name: 'Partner garden' }).click()
  await app.getByRole('option', { name: /Fernery of Aldmere/ }).click()
  await line.getByLabel('Packets').fill('2')
  await line.getByLabel('Seeds per packet').fill('10')
  await line.getByRole('combobox', { name: 'Lot' }).click()
  await app.getByRole('option', { name: /HV-00000001/ }).click()
  await expect(app.getByLabel('The run', { exact: true }).getByRole('region', { name: 'Values' })).toContainText('line_count')
  await line.getByRole('button', { name: 'Remove row 2' }).click()
  await expect(app.getByRole('region', { name: 'Row 2' })).toHaveCount(0)
})

test('stepping goes forwards and back, with the record as it was, and to where a field was set', async ({ app }) => {
  await app.goto(at('/rehearse/lot/1?on=base', app.url()))
  await app.getByRole('region', { name: 'Row 1' }).getByLabel('Gross mass (g)').fill('40')
  await expect(app.getByText('set to 28 by lot-mass')).toBeVisible()
  await app.getByRole('tab', { name: 'Steps' }).click()
  const steps = app.getByLabel('Steps', { exact: true })
  await choose(steps.getByLabel('Call'), /lot-mass: each/)
  await expect(steps).toContainText('lot-mass.ts, line')
  const before = await steps.getByText(/^\d+ \/ \d+$/).textContent()
  await steps.getByRole('button', { name: 'Next line' }).click()
  await expect(steps.getByText(/^\d+ \/ \d+$/)).not.toHaveText(before!)
  await steps.getByRole('button', { name: 'Previous line' }).click()
  await expect(steps.getByText(/^\d+ \/ \d+$/)).toHaveText(before!)
  await steps.focus()
  for (let i = 0; i < 12; i++) await app.keyboard.press('ArrowRight')
  await steps.locator('.pair', { hasText: 'net_mass_g' }).last().getByRole('button', { name: 'where set' }).click()
  await expect(steps.locator('.pair.set')).toContainText('net_mass_g')
  await expect(steps.locator('.text.here')).toContainText('row.now.net_mass_g')
})

test('two runs are compared', async ({ app }) => {
  await app.goto(at('/rehearse/lot/1?on=base', app.url()))
  const gross = app.getByRole('region', { name: 'Row 1' }).getByLabel('Gross mass (g)')
  await gross.fill('40')
  await expect(app.getByText('set to 28 by lot-mass')).toBeVisible()
  await app.getByRole('tab', { name: 'Compare' }).click()
  await app.getByRole('button', { name: 'Set as baseline' }).click()
  await expect(app.getByText('The two runs are identical.')).toBeVisible()
  await gross.fill('50')
  await expect(app.getByLabel('Compare', { exact: true }).getByRole('row', { name: /lot 1.net_mass_g/ })).toContainText(
    '38 (lot-mass)',
  )
})

test('a rehearsal is kept as a test, once it was tried; and the run is exported in the command line’s shape', async ({ app }) => {
  await app.goto(at('/rehearse/lot/1?on=base', app.url()))
  await app.getByRole('region', { name: 'Row 1' }).getByLabel('Gross mass (g)').fill('40')
  await expect(app.getByText('set to 28 by lot-mass')).toBeVisible()
  const [download] = await Promise.all([app.waitForEvent('download'), app.getByRole('button', { name: 'Export JSON' }).click()])
  const exported = JSON.parse(readFileSync((await download.path())!, 'utf8')) as object
  expect(Object.keys(exported).sort()).toEqual(['logs', 'lookups', 'refusals', 'rows', 'sent', 'spent', 'verdicts'])
  await app.getByRole('button', { name: 'Save as test' }).click()
  const keep = app.getByLabel('Save as test', { exact: true }).last()
  await keep.getByPlaceholder('a gross mass gives the net mass').fill('A heavier lot')
  await keep.getByLabel('lot-quarantine-bay').check()
  await keep.getByRole('button', { name: 'Create test' }).click()
  await expect(keep.getByText(/It passes, and fails without\s+lot-mass/)).toBeVisible()
  await expect(keep.getByText("expect(ran('lot-quarantine-bay')).toBe(0)")).toBeVisible()
  await keep.getByRole('button', { name: 'Save test' }).click()
  await expect(app.getByText('plugins/vault/tests/a-heavier-lot.test.ts')).toBeVisible()
})

test('kept saves run again with the code in the editor: the differences, and one of them as a rehearsal', async ({ app }) => {
  const save = (values: object) =>
    app.evaluate(
      async (body) => {
        const headers = { 'content-type': 'application/json' }
        const answer = await fetch('/api/saves', { method: 'POST', headers, body: JSON.stringify(body) })
        return ((await answer.json()) as { save: number }).save
      },
      { user: 'bram', rows: [{ table: 'lot', ...values }] },
    )
  const first = await save({ id: 5, values: { gross_mass_g: 60.4, tare_mass_g: 20 } })
  await save({ id: 5, values: { gross_mass_g: 90, tare_mass_g: 20 } })
  const path = 'plugins/vault/hooks/lot-mass.ts'
  await app.evaluate(async (of) => {
    const { text } = (await (await fetch(`/api/file?path=${of}`)).json()) as { text: string }
    const edited = text.replace('Math.round((gross - tare) * 1000) / 1000', 'Math.round(gross - tare)')
    localStorage.setItem('patient-hook:drafts', JSON.stringify({ [of]: edited }))
  }, path)
  await app.goto(at('/rehearse', app.url()))
  await app.getByRole('tab', { name: 'Replay' }).click()
  const replay = app.getByLabel('Replay', { exact: true })
  await replay.getByLabel('Saves', { exact: true }).fill('2')
  await replay.getByRole('button', { name: 'Replay saves' }).click()
  await expect(replay.getByText('1 the same, 1 different')).toBeVisible()
  const row = replay.getByRole('row', { name: new RegExp(`save ${first} .* lot 5 40.4 40 lot-mass`) })
  await expect(row).toBeVisible()
  expect(await violations(app)).toEqual([])
  // A reload loses nothing.
  await app.reload()
  await app.getByRole('tab', { name: 'Replay' }).click()
  await row.getByRole('button', { name: `save ${first}` }).click()
  await expect(app.getByText('set to 40 by lot-mass')).toBeVisible()
  await expect(app.getByLabel('On the records of')).toHaveValue(`the records before save ${first}`)
  await expect(app.getByRole('region', { name: 'Row 1' }).getByLabel('Gross mass (g)')).toHaveValue('60.4')
  await app.evaluate(() => localStorage.removeItem('patient-hook:drafts'))
})

test('is accessible, on paper and at night', async ({ app }) => {
  for (const dark of [false, true]) {
    await app.evaluate((value) => localStorage.setItem('patient-hook:dark', String(value)), dark)
    await app.goto(at('/rehearse/lot/1?on=base', app.url()))
    await app.getByRole('region', { name: 'Row 1' }).getByLabel('Gross mass (g)').fill('40')
    await expect(app.getByText('set to 28 by lot-mass')).toBeVisible()
    expect(await violations(app)).toEqual([])
    await app.getByRole('tab', { name: 'Steps' }).click()
    expect(await violations(app)).toEqual([])
  }
})
