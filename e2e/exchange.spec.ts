import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { readFolder, writeFolder } from '@patient-hook/core'
import { startServer } from '@patient-hook/server'
import { act, ask, choose, expect, test, violations } from './app'

/** In and out of the house: zips, CSV, keys, a linked folder; and two people at one record. */

test.use({ ground: 'exchange' })

test('a plugin is exported as a zip, and imported where it was removed', async ({ app: page }) => {
  await page.goto(new URL('/release/requests', page.url()).href)
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    act(page.getByRole('button', { name: 'Plugin actions' }), 'Export as zip'),
  ])
  expect(download.suggestedFilename()).toBe('requests.zip')
  const zip = await download.path()
  const places = page.getByRole('navigation', { name: 'Plugins' })
  await act(page.getByRole('button', { name: 'Plugin actions' }), 'Remove plugin…')
  await page.getByRole('button', { name: 'Remove' }).click()
  await expect(page.getByLabel('Changed hooks')).toContainText('removed')
  await act(page.getByRole('button', { name: 'Plugin actions' }), 'Import from zip…')
  await page
    .getByLabel('Zip', { exact: true })
    .setInputFiles({ name: 'requests.zip', mimeType: 'application/zip', buffer: readFileSync(zip) })
  const plan = page.getByRole('region', { name: 'Import from zip' })
  await expect(plan).toContainText('of its tests pass', { timeout: 60_000 })
  await expect(plan).toContainText('requests 1.0.0 is new')
  await page.getByRole('button', { name: 'Import files' }).click()
  await expect(page.getByText('No unreleased changes')).toBeVisible()
  await expect(places).toContainText('up to date')
})

test('a zip that is none, and one that needs what is not here, are refused', async ({ app: page }) => {
  await page.goto(new URL('/release/vault', page.url()).href)
  await act(page.getByRole('button', { name: 'Plugin actions' }), 'Import from zip…')
  await page
    .getByLabel('Zip', { exact: true })
    .setInputFiles({ name: 'x.zip', mimeType: 'application/zip', buffer: Buffer.from('no zip') })
  await expect(page.getByRole('alert')).toContainText('the zip x.zip cannot be imported')
  await expect(page.getByRole('button', { name: 'Import files' })).toBeDisabled()
})

test('records go out as CSV and come in through the save path, rehearsed first', async ({ app: page }) => {
  await page.goto(new URL('/records/partner', page.url()).href)
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    act(page.getByRole('button', { name: 'Export' }), 'Export CSV unchanged'),
  ])
  const [head, first, second] = readFileSync(await download.path(), 'utf8').split('\n')
  const csv = [head, first!.replace(/,[^,]*,/, ',Garden of the North,'), second!.replace(/^\d+/, '')].join('\n')
  const panel = page.getByRole('region', { name: 'Import CSV' })
  await page.getByLabel('CSV file').setInputFiles({ name: 'p.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) })
  await expect(panel.getByRole('button', { name: 'Import rows' })).toBeDisabled()
  await panel.getByRole('button', { name: 'Preview' }).click()
  await expect(panel).toContainText('2 of 2 rows would be saved: 1 new, 1 changed')
  await expect(panel.getByRole('table', { name: 'Preview' })).toContainText('Garden of the North')
  await page.getByRole('button', { name: 'Import rows' }).click()
  await expect(page.getByText('Garden of the North')).toBeVisible()
})

test('columns of a file from elsewhere are read as fields, links by what people call the record', async ({ app: page }) => {
  await page.goto(new URL('/records/collection', page.url()).href)
  const panel = page.getByRole('region', { name: 'Import CSV' })
  const count = page.getByLabel('Records of the list')
  const before = await count.textContent()
  const file = (text: string) => ({ name: 'gathered.csv', mimeType: 'text/csv', buffer: Buffer.from(text) })
  await page.getByLabel('CSV file').setInputFiles(file('place;when;how\nHollin Reach;2026-05-01;wild\nnowhere;2026-05-02;wild\n'))
  await expect(panel.getByRole('button', { name: 'Preview' })).toBeDisabled()
  await choose(panel.getByLabel('Field for place'), 'Site')
  await choose(panel.getByLabel('place matches by'), 'by Name')
  await choose(panel.getByLabel('Field for when'), /Collected/)
  await choose(panel.getByLabel('Field for how'), /Kind/)
  // A look elsewhere loses none of it.
  await page.getByRole('link', { name: 'Model' }).click()
  await expect(page).toHaveURL(/\/model/)
  await page.goBack()
  await expect(panel.getByLabel('Field for when')).toHaveValue('Collected on')
  await panel.getByRole('button', { name: 'Preview' }).click()
  await expect(panel.getByRole('alert')).toContainText('no record of site has the name "nowhere"')
  await expect(panel.getByRole('alert')).toContainText('gathered.csv')
  await expect(panel.getByRole('button', { name: 'Import rows' })).toBeDisabled()
  expect(await violations(page)).toEqual([])
  await panel.getByLabel(/Import valid rows/).check()
  await panel.getByRole('button', { name: 'Preview' }).click()
  await expect(panel.getByRole('status')).toContainText('1 of 2 rows would be saved: 1 new')
  await expect(panel.getByRole('listitem')).toContainText('row 2: site: no record of site has the name "nowhere"')
  await expect(panel.getByRole('listitem')).toContainText('gathered.csv, line 3')
  await expect(panel.getByRole('alert')).toHaveCount(0)
  await expect(panel.getByRole('table', { name: 'Preview' }).getByRole('cell').first()).toHaveText(/^Collection \(new\)/)
  await panel.getByRole('button', { name: 'Import rows' }).click()
  await expect(panel).toHaveCount(0)
  await expect(count).toHaveText(`${parseInt(before!) + 1} records`)
})

test('a key is made, shown once, used and revoked', async ({ app: page, server }) => {
  await page.goto(new URL('/keys', page.url()).href)
  await expect(page.getByText('No keys yet')).toBeVisible()
  await page.getByLabel('Name', { exact: true }).fill('the scale in bay 3')
  await choose(page.getByLabel('User', { exact: true }), /Bram/)
  await page.getByRole('button', { name: 'Create key' }).click()
  const key = (await page.locator('[data-test=key]').textContent())!
  expect(await violations(page)).toEqual([])
  const call = () =>
    fetch(`http://127.0.0.1:${server.port}/api/v1/saves`, {
      method: 'POST',
      headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
      body: JSON.stringify({ rows: [{ table: 'lot', id: 9, values: { bay: 'D4' } }] }),
    })
  expect((await call()).status).toBe(201)
  await page.reload()
  await expect(page.locator('[data-test=key]')).toHaveCount(0)
  await expect(page.getByRole('row', { name: /the scale in bay 3/ })).not.toContainText('never')
  await page.getByRole('button', { name: 'Revoke' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Revoke key' }).click()
  await expect(page.getByRole('row', { name: /the scale in bay 3/ })).toContainText('revoked')
  expect((await call()).status).toBe(401)
})

test('two people at one record lose nothing: the second is shown who changed what, and goes on', async ({ app: page }) => {
  await page.goto(new URL('/records/lot/6', page.url()).href)
  const notes = page.locator('textarea[name=handling_notes], input[name=handling_notes]')
  const bay = page.locator('input[name=bay]')
  await notes.fill('mine')
  await ask(page, 'POST', '/saves', {
    user: 'ines',
    rows: [{ table: 'lot', id: 6, values: { handling_notes: 'theirs', bay: 'Z9' } }],
  })
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText(/handling_notes of lot 6 is now "theirs".*ines changed it/).first()).toBeVisible()
  await page.getByRole('button', { name: 'Reload record' }).click()
  await expect(bay).toHaveValue('Z9')
  await expect(notes).toHaveValue('mine')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Another user changed')).toHaveCount(0)
  const { record } = await ask<{ record: object }>(page, 'GET', '/tables/lot/records/6')
  expect(record).toMatchObject({ handling_notes: 'mine', bay: 'Z9' })
})

test('a linked folder: what any editor writes is in the sheet; a conflict shows both', async ({ page }) => {
  const root = mkdtempSync(join(tmpdir(), 'linked-'))
  const folder = join(root, 'project')
  writeFolder(folder, readFolder(join(import.meta.dirname, '../demo')))
  const server = await startServer({
    files: () => Object.fromEntries(readFolder(folder)),
    dataFolder: join(root, 'data'),
    port: 0,
    fresh: true,
    link: folder,
  })
  try {
    const file = join(folder, 'plugins/vault/hooks/lot-mass.ts')
    const before = readFileSync(file, 'utf8')
    await page.goto(server.url)
    await page.goto(new URL('/write/lot-mass', page.url()).href)
    const sheet = page.getByLabel('Effect sheet').first()
    await expect(sheet.getByRole('row').nth(1)).toContainText('200000')
    writeFileSync(file, before.replace('* 1000) / 1000', '* 1000) / 1000 + 7000'))
    await expect(page.getByRole('textbox', { name: 'Code of the hook' })).toContainText('+ 7000')
    await expect(sheet.getByRole('row').nth(1)).toContainText('7100')
    await test.step('a file that cannot be used is reported', async () => {
      writeFileSync(file, before.replace('defineHook({', 'defineHook({{'))
      await expect(page.getByRole('status', { name: 'Linked folder' })).toContainText('lot-mass.ts')
    })
    await test.step('changed on both sides', async () => {
      await ask(page, 'PUT', '/files', { files: { 'plugins/vault/hooks/lot-mass.ts': before } })
      const note = page.getByRole('status', { name: 'Linked folder' })
      await expect(note).toContainText('changed in the folder and here')
      await note.getByRole('button', { name: 'Use this one' }).click()
      await expect(note).toHaveCount(0)
      expect(readFileSync(file, 'utf8')).toBe(before)
    })
  } finally {
    await server.close()
    rmSync(root, { recursive: true, force: true })
  }
})
