import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startServer } from '@patient-hook/server'
import { ask, expect, test, violations } from './app'

/** The home page, the help, and the tray of long tasks. */

test.use({ ground: 'overview' })

for (const look of ['paper', 'night'])
  for (const width of [1280, 640])
    test(`overview, operations and help are accessible on ${look}, ${width} wide`, async ({ app: page }) => {
      await page.setViewportSize({ width, height: 800 })
      await page.evaluate((dark) => localStorage.setItem('patient-hook:dark', String(dark)), look === 'night')
      for (const [path, seen] of [
        ['/', 'Needs attention'],
        ['/help/how-to', 'Find out why a value is missing'],
        ['/keys', 'No keys yet'],
        ['/outbox', 'No messages'],
      ] as const) {
        await page.goto(new URL(path, page.url()).href)
        await expect(page.getByText(seen).first()).toBeVisible()
        expect(await violations(page), path).toEqual([])
      }
    })

test('what needs attention leads to the place where it is fixed; activity lists what was done', async ({ app: page }) => {
  const file = 'plugins/vault/hooks/lot-mass.ts'
  const { text } = await ask<{ text: string }>(page, 'GET', `/file?path=${file}`)
  await ask(page, 'PUT', '/files', { files: { [file]: `// changed\n${text}` } })
  await ask(page, 'POST', '/saves', { user: 'bram', rows: [{ table: 'site', id: 1, values: { district: 'Low Fell' } }] })
  await page.goto(new URL('/', page.url()).href)
  await expect(page.getByRole('group', { name: 'Activity' })).toContainText('bram saved 1 row')
  await page.getByRole('group', { name: 'Needs attention' }).getByText('vault: 1 unreleased file').click()
  await expect(page).toHaveURL(/\/release\/vault$/)
})

test('a new project shows its first steps, and ticks what is done', async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), 'patient-hook-'))
  const server = await startServer({
    files: () => ({ 'project.json': JSON.stringify({ title: 'Empty', users: [{ name: 'ada', title: 'Ada' }] }) }),
    dataFolder: folder,
    port: 0,
    fresh: true,
  })
  try {
    await page.goto(server.url)
    const steps = page.getByRole('list', { name: 'First steps' })
    await expect(steps.getByLabel('to do')).toHaveCount(4)
    await steps.getByRole('link', { name: 'Create a table' }).click()
    await page.getByRole('button', { name: 'New table' }).last().click()
    await page.getByRole('button', { name: 'Create table' }).click()
    await expect(page).toHaveURL(/\/model\/new_table$/)
    await page.getByRole('link', { name: 'Overview' }).click()
    await expect(steps.getByLabel('done')).toHaveCount(1)
    expect(await violations(page)).toEqual([])
  } finally {
    await server.close()
    rmSync(folder, { recursive: true, force: true })
  }
})

test('help is searched, and links within it stay in the application', async ({ app: page }) => {
  await page.goto(new URL('/help', page.url()).href)
  await page.getByLabel('Search help').fill('bulk proof')
  await page.getByRole('group', { name: 'Search results' }).getByText('Prove', { exact: true }).click()
  await expect(page).toHaveURL(/\/help\/guide#prove$/)
  await page.getByLabel('Search help').fill('')
  await page.getByRole('article').getByRole('link', { name: 'hooks.md' }).first().click()
  await expect(page).toHaveURL(/\/help\/hooks/)
})

test('a long task goes on in the tray while views change', async ({ app: page }) => {
  await page.goto(new URL('/write/lot-mass', page.url()).href)
  await page.getByRole('button', { name: 'Run tests' }).click()
  await page.getByRole('link', { name: 'Records' }).click()
  await page.getByRole('button', { name: /^Jobs:/ }).click()
  await expect(page.getByRole('region', { name: 'Jobs' })).toContainText('done')
})
