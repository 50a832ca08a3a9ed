import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Page } from '@playwright/test'
import { readFolder } from '@patient-hook/core'
import { startServer } from '@patient-hook/server'
import { median } from './median.js'

/**
 * How quick writing is, in the real interface: node dist/typing.js [ROUNDS] [--write FILE]. The hook lot-mass of the demo, 500 rows of the
 * fixture set vault, seven hooks on their table, recording on.
 */
const rounds = Number(process.argv.slice(2).find((each) => /^\d+$/.test(each)) ?? 15)
const writeAt = process.argv.indexOf('--write')
const worst = (values: number[]) => Math.max(...values)
const folder = mkdtempSync(join(tmpdir(), 'typing-'))
const demo = join(import.meta.dirname, '../../demo')
const server = await startServer({
  files: () => Object.fromEntries(readFolder(demo)),
  dataFolder: folder,
  port: 0,
  fresh: true,
})
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update', '--no-first-run'],
})

/** Longest time between two frames since it was last asked, in milliseconds. */
async function watchFrames(page: Page): Promise<() => Promise<number>> {
  await page.evaluate(() => {
    const state = { longest: 0, last: performance.now() }
    Object.assign(window, { frames: state })
    const step = (now: number) => {
      state.longest = Math.max(state.longest, now - state.last)
      state.last = now
      requestAnimationFrame(step)
    }
    requestAnimationFrame(step)
  })
  return () =>
    page.evaluate(() => {
      const { frames } = window as unknown as { frames: { longest: number } }
      const { longest } = frames
      frames.longest = 0
      return Math.round(longest)
    })
}

try {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage()
  page.setDefaultTimeout(15_000)
  await page.goto(server.url)
  await page.goto(new URL('/write/lot-mass', page.url()).href)
  await page.getByLabel('Rows of').selectOption('vault')
  await page.getByLabel('Saved').selectOption('update')
  await page.getByLabel('Changed field').selectOption('tare_mass_g')
  await page.locator('td.now').first().waitFor()
  const longest = await watchFrames(page)

  // A factor in the formula changes with each key; the sheet is new when its first value is.
  await page.locator('td.now').first().click()
  await page.getByRole('button', { name: /^lot-mass\.ts, line/ }).click()
  await page.keyboard.press('End')
  await page.keyboard.type(' + 1')
  await page.waitForFunction(() => document.querySelector('.ribbon.busy') === null)
  const sheets: number[] = []
  const frames: number[] = []
  // Within the page: when the last key went down, and when the first cell showed another value.
  await page.evaluate(() => {
    const state = { key: 0, text: '', changed: 0 }
    Object.assign(window, { typing: state })
    document.addEventListener('keydown', () => (state.key = performance.now()), true)
    const cell = () => document.querySelector('td.now')?.textContent ?? ''
    state.text = cell()
    new MutationObserver(() => {
      if (cell() === '' || cell() === state.text) return
      state.text = cell()
      state.changed = performance.now()
    }).observe(document.body, { subtree: true, childList: true, characterData: true })
  })
  type Typing = { typing: { key: number; changed: number } }
  const press = async (key: string): Promise<number> => {
    await page.keyboard.press(key)
    await page.waitForFunction(
      () => {
        const { typing } = window as unknown as Typing
        return typing.changed > typing.key
      },
      undefined,
      { timeout: 10_000 },
    )
    return page.evaluate(() => {
      const { typing } = window as unknown as Typing
      return typing.changed - typing.key
    })
  }
  // A user who writes has typed something before: engines that have just begun are still compiling.
  const WARM = 20
  for (let i = 0; i < rounds + WARM; i++) {
    await longest()
    const ms = await press(String(1 + (i % 8)))
    if (i >= WARM) sheets.push(ms)
    if (i >= WARM) frames.push(await longest())
    await press('Backspace')
  }

  const typing = 'abcdefghijklmnopqrstuvwxyz'.repeat(2)
  await longest()
  await page.keyboard.press('Enter')
  await page.keyboard.type(`// ${typing}`, { delay: 40 })
  const typed = await longest()

  const complete = async (text: string): Promise<number> => {
    await page.keyboard.press('Escape')
    const started = performance.now()
    await page.keyboard.insertText(text)
    await page.locator('.cm-tooltip-autocomplete').waitFor()
    return performance.now() - started
  }
  const first: number[] = []
  const later: number[] = []
  for (let i = 0; i < 3; i++) {
    const fresh = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage()
    fresh.setDefaultTimeout(15_000)
    await fresh.goto(server.url)
    await fresh.goto(new URL('/write/lot-quarantine-bay', fresh.url()).href)
    await fresh.locator('.cm-content').waitFor()
    const opened = performance.now()
    await fresh.locator('.cm-line', { hasText: 'each(' }).click()
    await fresh.keyboard.press('End')
    await fresh.keyboard.press('Enter')
    await fresh.keyboard.insertText('row.now.')
    await fresh.locator('.cm-tooltip-autocomplete').waitFor()
    first.push(performance.now() - opened)
    await fresh.context().close()
  }
  await page.keyboard.press('Enter')
  for (let i = 0; i < 8; i++) {
    later.push(await complete('row.now.'))
    await page.keyboard.press('Escape')
    for (let k = 0; k < 'row.now.'.length; k++) await page.keyboard.press('Backspace')
  }
  const opened: number[] = []
  for (const hook of ['lot-copied', 'request-region', 'collection-label', 'site-to-collections', 'lot-quarantine-bay']) {
    const started = performance.now()
    await page.getByRole('link', { name: new RegExp(`^${hook}`) }).click()
    await page.locator('strong', { hasText: hook }).waitFor()
    await page.locator('.cm-content').click()
    await page.keyboard.press('Control+End')
    await page.keyboard.insertText('\ndefineH')
    await page.locator('.cm-tooltip-autocomplete').waitFor()
    opened.push(performance.now() - started)
    await page.keyboard.press('Escape')
  }
  const ms = (value: number) => String(Math.round(value))
  const lines = [
    '| what | median ms | worst ms | wanted |',
    '|---|---|---|---|',
    `| last keystroke to new sheet, ${rounds} times, after ${WARM} others | ${ms(median(sheets))} | ${ms(worst(sheets))} | 120, 180 |`,
    `| longest frame while a sheet comes in | ${ms(median(frames))} | ${ms(worst(frames))} | no stutter |`,
    `| longest frame in ${typing.length} keystrokes, 40 ms apart | ${typed} | ${typed} | no stutter |`,
    `| opening a hook to its first completions, ${opened.length} hooks in an open page | ${ms(median(opened))} | ${ms(worst(opened))} | under 1500 |`,
    `| the same from nothing: a browser that has never loaded the page, ${first.length} times | ${ms(median(first))} | ${ms(worst(first))} | under 1500 |`,
    `| later completions, ${later.length} times | ${ms(median(later.slice(1)))} | ${ms(worst(later.slice(1)))} | under 100 |`,
    '',
    `Machine: ${cpus().length} × ${cpus()[0]!.model}, Node ${process.version}, headless Chromium; ${new Date().toISOString().slice(0, 10)}.`,
  ]
  console.log(lines.join('\n'))
  if (writeAt > 0) writeFileSync(process.argv[writeAt + 1]!, lines.join('\n') + '\n')
} finally {
  await browser.close()
  await server.close()
  rmSync(folder, { recursive: true, force: true })
}
