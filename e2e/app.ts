import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { test as base, expect, type Locator, type Page } from '@playwright/test'
import { readFolder } from '@patient-hook/core'
import { startServer, type RunningServer } from '@patient-hook/server'

/**
 * Tests share an application with demo data, on its own port. A file that saves hooks, tables or records names a ground of
 * its own with test.use and gets a fresh application. The runner may put files of one ground together in any order.
 */
export const test = base.extend<{ app: Page }, { server: RunningServer; ground: string }>({
  ground: ['shared', { option: true, scope: 'worker' }],
  server: [
    async ({}, use) => {
      const folder = mkdtempSync(join(tmpdir(), 'patient-hook-'))
      const demo = join(import.meta.dirname, '../demo')
      const server = await startServer({
        files: () => Object.fromEntries(readFolder(demo)),
        dataFolder: folder,
        port: 0,
        fresh: true,
      })
      await use(server)
      await server.close()
      rmSync(folder, { recursive: true, force: true })
    },
    { scope: 'worker' },
  ],
  app: async ({ page, server }, use) => {
    const problems: string[] = []
    page.on('pageerror', (error) => problems.push(error.message))
    await page.goto(server.url)
    await expect(page.getByRole('link', { name: 'Write' })).toBeVisible()
    await use(page)
    expect(problems).toEqual([])
  },
})

/** Asks the application as its interface does. */
export async function ask<T>(page: Page, method: string, path: string, body?: unknown): Promise<T> {
  return page.evaluate(
    async ([method, path, body]) => {
      const response = await fetch(`/api${path as string}`, {
        method: method as string,
        headers: { 'content-type': 'application/json' },
        body: body === undefined ? undefined : JSON.stringify(body),
      })
      return (await response.json()) as never
    },
    [method, path, body] as const,
  )
}

/** Chooses an option of a select by its title. */
export async function choose(select: Locator, title: string | RegExp): Promise<void> {
  await select.locator('xpath=ancestor-or-self::*[contains(concat(" ", @class, " "), " v-field ")]').click()
  const list = select.page().locator('.v-overlay--active').last()
  await list.getByRole('option', typeof title === 'string' ? { name: title, exact: true } : { name: title }).click()
  await expect(list.getByRole('option')).toHaveCount(0)
}

/** Chooses an entry of a menu. */
export async function act(menu: Locator, title: string): Promise<void> {
  await menu.click()
  await menu.page().getByRole('menuitem', { name: title }).click()
}

/** Puts text into the code editor in place of all that is there. */
export async function writeCode(page: Page, text: string): Promise<void> {
  const editor = page.getByRole('textbox', { name: 'Code of the hook' })
  await editor.click()
  await page.keyboard.press('Control+a')
  await page.keyboard.insertText(text)
}

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/** What axe-core finds wrong with the page by WCAG 2 A and AA. */
export async function violations(page: Page): Promise<string[]> {
  await page.waitForLoadState('networkidle')
  await page.evaluate(axe)
  return page.evaluate(async () => {
    const { axe } = window as unknown as {
      axe: { run(options: object): Promise<{ violations: { id: string; nodes: { html: string; failureSummary: string }[] }[] }> }
    }
    /** Watches the page; `since` says whether it was drawn again, `rest` waits until it has not been for half a second. */
    const watching = () => {
      let [drawn, last] = [false, performance.now()]
      const observer = new MutationObserver(() => {
        drawn = true
        last = performance.now()
      })
      observer.observe(document, { subtree: true, childList: true })
      return {
        since: () => drawn,
        rest: async () => {
          while (performance.now() - last < 500) await new Promise((done) => requestAnimationFrame(done))
        },
        end: () => observer.disconnect(),
      }
    }
    // What is drawn again while it is looked at cannot be looked at: findings and sheets come when they come.
    for (let attempt = 1; ; attempt++) {
      const before = watching()
      await before.rest()
      before.end()
      const during = watching()
      try {
        const { violations } = await axe.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'] })
        if (!during.since() || attempt === 20)
          return violations.flatMap((each) =>
            each.nodes.map((node) => `${each.id}: ${node.html.slice(0, 160)} ${node.failureSummary.slice(0, 200)}`),
          )
      } catch (error) {
        if (!during.since() || attempt === 20) throw error
      } finally {
        during.end()
      }
    }
  })
}
export { expect }

/** The button that takes back what a notice says. */
export const undoOf = (page: Page, notice: string) =>
  page.getByRole('status').filter({ hasText: notice }).getByRole('button', { name: 'Undo' })
