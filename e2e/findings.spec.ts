import { RULES } from '@patient-hook/core'
import { expect, test, writeCode } from './app'

/** Each trap typed in, found, and fixed by its fix where it has one. */

const whole = (literal: string) => `import { defineHook } from 'patient-hook'\n\nexport default defineHook(${literal})\n`
/** Two hooks of the demo whose code is replaced, the second where a trap needs two. */
const HOOKS = ['lot-accession', 'lot-mass']

/** Rules that speak of the first of two hooks. */
const IN_FIRST = ['reads-before-set']

for (const { meta, examples } of RULES)
  test(`${meta.name} is found while typing${examples.fail.length ? '' : ' (no example)'}`, async ({ app: page }) => {
    const parts = [...examples.fail[0]!.split('\n---\n').entries()]
    // The hook that the finding is in is opened last.
    if (IN_FIRST.includes(meta.name)) parts.reverse()
    for (const [index, literal] of parts) {
      await page.goto(new URL(`/write/${HOOKS[index]}`, page.url()).href)
      await expect(page.locator('.cm-content')).toBeVisible()
      await writeCode(page, whole(literal))
      await expect(page.getByText('unsaved')).toBeVisible()
    }
    const finding = page.getByLabel('Findings').getByRole('listitem').filter({ hasText: meta.name })
    await expect(finding.first()).toBeVisible()
    const before = await finding.count()
    const fix = finding.first().getByRole('button').nth(1)
    if ((await fix.count()) > 0) {
      await fix.click()
      await expect(finding).toHaveCount(before - 1)
    }
    page.on('dialog', (dialog) => void dialog.accept())
    await page.evaluate(() => localStorage.removeItem('patient-hook:drafts'))
  })

test('completion finds a field by its label, hover says what it is, and types are checked while typing', async ({
  app: page,
}) => {
  await page.goto(new URL('/write/lot-mass', page.url()).href)
  await writeCode(page, whole(`{\n  table: 'lot',\n  moment: 'before-save',\n  each(row) {\n    row.now.\n  },\n}`))
  const line = page.locator('.cm-line', { hasText: 'row.now.' })
  await line.click()
  await page.keyboard.press('End')
  await page.keyboard.type('thous')
  for (let i = 0; i < 5; i++) await page.keyboard.press('Backspace')
  await page.keyboard.type('estim')
  await page.locator('.cm-tooltip-autocomplete li', { hasText: 'Seeds, estimated' }).click()
  await expect(line).toContainText('row.now.seed_estimate')
  await page.keyboard.type(" = 'many'")
  await expect(page.getByLabel('Findings')).toContainText("Type 'string' is not assignable to type 'number'")
  page.on('dialog', (dialog) => void dialog.accept())
})

test('what nothing fits does not end completion when it is answered after more was typed', async ({ app: page }) => {
  // A worker that is slow to answer what is asked of it for completion.
  await page.addInitScript(() => {
    const send = Worker.prototype.postMessage as (message: { method?: string }) => void
    Worker.prototype.postMessage = function (message: { method?: string }) {
      if (message.method !== 'complete') send.call(this, message)
      else {
        document.body.dataset['asked'] = 'yes'
        setTimeout(() => send.call(this, message), 500)
      }
    }
  })
  await page.goto(new URL('/write/lot-mass', page.url()).href)
  await writeCode(page, whole(`{\n  table: 'lot',\n  moment: 'before-save',\n  each(row) {\n    row.now.\n  },\n}`))
  await page.locator('.cm-line', { hasText: 'row.now.' }).click()
  await page.keyboard.press('End')
  await page.keyboard.type('zzz')
  await expect(page.locator('body')).toHaveAttribute('data-asked', 'yes')
  for (let i = 0; i < 3; i++) await page.keyboard.press('Backspace')
  await page.keyboard.type('estim')
  await expect(page.locator('.cm-tooltip-autocomplete li', { hasText: 'Seeds, estimated' })).toBeVisible()
  page.on('dialog', (dialog) => void dialog.accept())
})
