import { ask, choose, expect, test, violations } from './app'

/** The log of saves, the outbox and backups; a list with a filter that its address keeps. */

test.use({ ground: 'save-log' })

test('kept and refused saves are reported with their figures, and open as rehearsals', async ({ app: page }) => {
  await page.goto(new URL('/saves', page.url()).href)
  await expect(page.getByText('No saves in this period')).toBeVisible()
  await ask(page, 'POST', '/saves', { rows: [{ table: 'lot', id: 1, values: { handling_notes: 'keep cool' } }] })
  await ask(page, 'POST', '/saves', { rows: [{ table: 'request_line', id: 2, values: { packets: 99999 } }] })
  await page.getByRole('button', { name: 'Refresh' }).click()
  const list = page.getByRole('navigation', { name: 'Saves' })
  await expect(list.getByRole('link')).toHaveCount(3)
  await expect(list).toContainText('refused')
  await page.reload()
  await expect(page.getByRole('table', { name: 'Time by hook' })).toContainText('lot-notes-to-siblings')
  await expect(page.getByRole('table', { name: 'Refusal reasons' })).toContainText('request-within-stock')
  await expect(page.getByRole('img', { name: /1 saves committed, 1 refused or failed/ })).toBeVisible()
  expect(await violations(page)).toEqual([])

  await list.getByRole('link', { name: /save 1/ }).click()
  const story = page.getByRole('article', { name: 'One save' })
  await expect(story).toContainText('requests 1.0.0, vault 1.0.0')
  await expect(story.getByRole('table', { name: 'Records written' })).toContainText('keep cool')
  await story.getByRole('button', { name: 'Rehearse this save' }).click()
  await expect(page).toHaveURL(/rehearse\/lot\/1\?on=before-1/)
  await page.goBack()

  await list.getByRole('link', { name: /refused/ }).click()
  await expect(page.getByRole('article')).toContainText('are asked for')
  await page.getByRole('button', { name: 'Rehearse this save' }).click()
  await expect(page).toHaveURL(/rehearse\/request_line\/2/)
  await expect(page.getByRole('textbox', { name: 'Packets' })).toHaveValue('99999')
})

test('messages and what the post room received', async ({ app: page }) => {
  await page.goto(new URL('/outbox', page.url()).href)
  await expect(page.getByText('No messages')).toBeVisible()
  const lots = await ask<{ records: { id: number }[] }>(page, 'GET', '/tables/lot/records?limit=20')
  for (const { id } of lots.records)
    await ask(page, 'POST', '/saves', { rows: [{ table: 'lot', id, values: { status: 'quarantine' } }] })
  const counts = page.locator('[data-test=counts]')
  await expect(async () => {
    await page.getByRole('button', { name: 'Refresh' }).click()
    await expect(counts).toContainText(/0 waiting, [1-9]\d* delivered/, { timeout: 500 })
  }).toPass()
  await expect(page.getByRole('article').first()).toContainText('partner-mail')
  await page.getByRole('tab', { name: 'Test inbox' }).click()
  await expect(page.getByRole('article').first()).toContainText('This lot is in quarantine')
  expect(await violations(page)).toEqual([])
})

test('a backup is made, and the way to begin with it again is reported', async ({ app: page }) => {
  await page.goto(new URL('/backups', page.url()).href)
  await expect(page.getByText('No backup yet')).toBeVisible()
  await page.getByRole('button', { name: 'Back up now' }).click()
  await expect(page.getByRole('table', { name: 'Backups in the folder' })).toContainText('backups/records-')
  await expect(page.getByText('serve --restore backups/records-')).toBeVisible()
  expect(await violations(page)).toEqual([])
})

test('a list is filtered by fields and links; its address keeps filter and order', async ({ app: page }) => {
  await page.goto(new URL('/records/lot', page.url()).href)
  await page.getByRole('button', { name: 'Filter' }).click()
  await page.getByRole('button', { name: 'Add condition' }).click()
  await choose(page.getByLabel('Field 1'), 'Status')
  await choose(page.getByLabel('Value 1'), 'quarantine')
  await page.getByRole('button', { name: 'Add condition' }).click()
  await choose(page.getByLabel('Field 2'), 'Species')
  const asked = encodeURIComponent(JSON.stringify({ status: 'quarantine' }))
  const lots = await ask<{ records: { species: number }[]; labels: { species: Record<string, string> } }>(
    page,
    'GET',
    `/tables/lot/records?limit=1&where=${asked}`,
  )
  const id = lots.records[0]!.species
  const label = lots.labels.species[String(id)]!
  await page.getByLabel('Value 2').fill(label)
  await page.getByRole('option', { name: `${label} (${id})` }).click()
  await page.getByRole('button', { name: 'Gross mass (g)' }).click()
  await expect(page).toHaveURL(/where=.*order=gross_mass_g|order=gross_mass_g.*where=/)
  const rows = page.getByLabel('Lot records').locator('tbody tr')
  const wanted = await ask<{ total: number }>(
    page,
    'GET',
    `/tables/lot/records?where=${encodeURIComponent(JSON.stringify({ status: 'quarantine', species: id }))}`,
  )
  await expect(rows).toHaveCount(wanted.total)
  await page.reload()
  await expect(page.getByLabel('Value 1')).toHaveValue('quarantine')
  await page.getByLabel('Remove condition 2').click()
  await expect(rows).not.toHaveCount(wanted.total)
  await expect(rows.first()).toContainText('quarantine')
  await choose(page.getByLabel('Comparison 1'), 'is empty')
  await expect(page.getByText('No record matches the filter')).toBeVisible()
})

test('why a value is there is reported from a cell of the list, back to what was typed', async ({ app: page }) => {
  await ask(page, 'POST', '/saves', { user: 'bram', rows: [{ table: 'site', id: 1, values: { district: 'Far Fell' } }] })
  const where = encodeURIComponent(JSON.stringify({ site: 1 }))
  await page.goto(new URL(`/records/collection?where=${where}`, page.url()).href)
  const list = page.getByLabel('Collection records')
  const cell = list.getByRole('row').nth(1).getByRole('gridcell', { name: 'Far Fell' })
  await cell.hover()
  await cell.getByRole('button', { name: /Why this value of District/ }).click()
  const why = page.getByRole('region', { name: 'Origin of District' })
  await expect(why.getByRole('listitem')).toHaveCount(2)
  await expect(why.getByRole('listitem').first()).toContainText('set by requests/site-to-collections@')
  await expect(why.getByRole('listitem').first()).toContainText('a ripple 1 deep')
  await expect(why.getByRole('listitem').last()).toContainText('typed by bram')
  await expect(page).toHaveURL(/why=district/)
  expect(await violations(page)).toEqual([])
  await why.getByRole('link', { name: 'rehearse' }).last().click()
  await expect(page).toHaveURL(/on=before-/)
})

test('a save is undone by another save, with a preview; a later change is a conflict', async ({ app: page }) => {
  const district = async () =>
    (await ask<{ record: { district: string } }>(page, 'GET', '/tables/site/records/2')).record.district
  const before = await district()
  const { save } = await ask<{ save: number }>(page, 'POST', '/saves', {
    user: 'bram',
    rows: [{ table: 'site', id: 2, values: { district: 'Salt Edge' } }],
  })
  await page.goto(new URL(`/saves/${save}`, page.url()).href)
  const story = page.getByRole('article', { name: 'One save' })
  await story.getByRole('button', { name: 'Undo save…' }).click()
  await expect(story.getByRole('table', { name: 'Preview of the undo' })).toContainText('Salt Edge')
  expect(await violations(page)).toEqual([])
  await story.getByRole('button', { name: `Undo save ${save}` }).click()
  await expect(page.getByText(`Undid save ${save}`)).toBeVisible()
  expect(await district()).toBe(before)

  await ask(page, 'POST', '/saves', { user: 'ines', rows: [{ table: 'site', id: 2, values: { district: 'Elsewhere' } }] })
  await story.getByRole('button', { name: 'Undo save…' }).click()
  await expect(story.getByText(/is now "Elsewhere"/)).toBeVisible()
  await expect(story.getByRole('button', { name: `Undo save ${save}` })).toBeDisabled()
})
