import type { Page } from '@playwright/test'
import { ask, expect, test } from './app'

/** Files are kept while others, and oneself, go on writing. */

const open = (page: Page, path: string) => page.goto(new URL(path, page.url()).href)
const code = (page: Page) => page.locator('.cm-content')
const HOOK = 'plugins/vault/hooks/lot-mass.ts'
const LIB = 'plugins/vault/lib/thousand-seed.ts'
const textOf = async (page: Page, path: string) => (await ask<{ text: string }>(page, 'GET', `/file?path=${path}`)).text
const keep = (page: Page, path: string, text: string) => ask(page, 'PUT', '/files', { files: { [path]: text } })
const wholeProjects = (page: Page): string[] => {
  const asked: string[] = []
  page.on('request', (request) => {
    const { pathname, search } = new URL(request.url())
    if (pathname === '/api/project' || (pathname === '/api/code' && search === '')) asked.push(pathname)
  })
  return asked
}

test.use({ ground: 'keeping' })
test.afterEach(async ({ app: page }) => {
  await page.evaluate(() => localStorage.clear())
})

test('what is typed while a file is being kept is not lost, and is kept the next time', async ({ app: page }) => {
  await open(page, '/write/lot-mass')
  await expect(code(page)).toContainText('defineHook')
  let isFirst = true
  await page.route('**/api/files', async (route) => {
    if (isFirst) await page.keyboard.type(' and more')
    isFirst = false
    await route.continue()
  })
  await code(page).click()
  await page.keyboard.press('Control+End')
  await page.keyboard.type('// one')
  await page.keyboard.press('Control+s')
  await expect.poll(() => textOf(page, HOOK)).toMatch(/\/\/ one\n$/)
  await expect(page.getByRole('button', { name: 'Save hook' })).toBeEnabled()
  await expect(code(page)).toContainText('// one and more')
  await page.keyboard.press('Control+s')
  await expect.poll(() => textOf(page, HOOK)).toMatch(/\/\/ one and more\n$/)
})

test('a file is kept as it was written where the formatter cannot be had', async ({ app: page }) => {
  const refused: string[] = []
  await page.context().route('**/format-worker*', (route) => {
    refused.push(route.request().url())
    return route.abort()
  })
  await open(page, '/write/lot-mass')
  await expect(code(page)).toContainText('defineHook')
  await code(page).click()
  await page.keyboard.press('Control+End')
  await page.keyboard.type('//   as it is')
  await page.keyboard.press('Control+s')
  await expect.poll(() => textOf(page, HOOK)).toMatch(/\/\/ {3}as it is$/)
  expect(refused.length).toBeGreaterThan(0)
})

test('what somebody else keeps is reported file by file: text, hooks, and what TypeScript says of it', async ({ app: page }) => {
  const told = page.waitForResponse((response) => response.url().endsWith('/api/code'))
  await open(page, '/write/lot-mass')
  await expect(code(page)).toContainText('seedsInMass')
  await told
  const asked = wholeProjects(page)
  const lib = await textOf(page, LIB)
  await keep(page, LIB, lib.replace('netMass: number, thousandMass: number', 'netMass: string, thousandMass: number'))
  await expect(page.getByLabel('Findings')).toContainText("is not assignable to parameter of type 'string'")
  await keep(page, LIB, lib)
  await expect(page.getByText("is not assignable to parameter of type 'string'")).toHaveCount(0)

  const hook = await textOf(page, HOOK)
  await keep(page, HOOK, `// from elsewhere\n${hook}`)
  await expect(code(page)).toContainText('// from elsewhere')
  const more = `import { defineHook } from 'patient-hook'\n\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { row.now.handling_notes ??= '' } })\n`
  await keep(page, 'plugins/vault/hooks/lot-elsewhere.ts', more)
  await expect(page.getByRole('link', { name: /lot-elsewhere/ })).toBeVisible()
  expect(asked).toEqual([])
})

test('what was kept while nobody looked at the page is there when somebody does', async ({ app: page }) => {
  const look = (state: 'hidden' | 'visible') =>
    page.evaluate((value) => {
      Object.defineProperty(document, 'visibilityState', { value, configurable: true })
      document.dispatchEvent(new Event('visibilitychange'))
    }, state)
  await open(page, '/write/lot-mass')
  await expect(code(page)).toContainText('seedsInMass')
  await look('hidden')
  const text = await textOf(page, HOOK)
  for (const word of ['first', 'second']) await keep(page, HOOK, `// the ${word} time\n${text}`)
  await expect(code(page)).not.toContainText('time')
  await look('visible')
  await expect(code(page)).toContainText('// the second time')
})

test('a hook that somebody else saved meanwhile is not overwritten: theirs, mine, or both', async ({ app: page }) => {
  await open(page, '/write/lot-mass')
  await expect(code(page)).toContainText('defineHook')
  const before = await textOf(page, HOOK)
  await code(page).click()
  await page.keyboard.press('Control+End')
  // The test before may have left the last line without an end.
  await page.keyboard.press('Enter')
  await page.keyboard.type('// mine')
  await keep(page, HOOK, `// theirs\n${before}`)
  await page.keyboard.press('Control+s')
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText('Somebody else saved this file')
  expect(await textOf(page, HOOK)).toBe(`// theirs\n${before}`)
  await dialog.getByRole('button', { name: 'Merge both' }).click()
  await expect(code(page)).toContainText('// theirs')
  await expect(code(page)).toContainText('// mine')
  await page.keyboard.press('Control+s')
  await expect.poll(() => textOf(page, HOOK)).toMatch(/^\/\/ theirs\n[^]*\n\/\/ mine\n$/)
  await keep(page, HOOK, before)
})
