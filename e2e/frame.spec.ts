import { expect, test, violations } from './app.js'

/** What is around every view: the rail, the search, who is working, the shortcuts; and the colours of the first visit. */

test('views have an icon and a word, and the one that is shown is marked', async ({ app }) => {
  const rail = app.getByRole('navigation', { name: 'Views' })
  for (const word of ['Model', 'Write', 'Rehearse', 'Prove', 'Release', 'Records']) {
    await rail.getByRole('link', { name: word }).click()
    await expect(app).toHaveURL(new RegExp(`/${word.toLowerCase()}`))
    await expect(rail.getByRole('link', { name: word })).toHaveClass(/active/)
  }
})

test('? lists the shortcuts, but not where something is typed', async ({ app }) => {
  await app.getByRole('navigation', { name: 'Views' }).getByRole('link', { name: 'Records' }).click()
  const list = app.getByRole('dialog', { name: 'Shortcuts' })
  await app.getByRole('searchbox').first().fill('x?')
  await expect(list).toHaveCount(0)
  await app.getByRole('searchbox').first().blur()
  await app.keyboard.press('Shift+?')
  await expect(list).toContainText('Ctrl+Shift+Enter')
  expect(await violations(app)).toEqual([])
  await app.keyboard.press('Escape')
  await expect(list).toBeHidden()
})

test('who is working is chosen from a menu', async ({ app }) => {
  const who = app.getByRole('button', { name: /^Working as/ })
  await who.click()
  await expect(app.getByRole('listbox', { name: 'Switch user' })).toBeVisible()
  expect(await violations(app)).toEqual([])
  await app.getByText('Bram Holt, vault keeper').click()
  await expect(who).toHaveAccessibleName('Working as Bram Holt, vault keeper')
})

test.describe('on a system with dark colours', () => {
  test.use({ colorScheme: 'dark' })
  test('the first visit is dark, and what is chosen stays', async ({ app }) => {
    await expect(app.locator('.v-theme--night').first()).toBeVisible()
    await app.getByRole('button', { name: 'Use light theme' }).click()
    await app.reload()
    await expect(app.locator('.v-theme--paper').first()).toBeVisible()
  })
})

test('the tour leads through five views, is offered once, and can be started again', async ({ app }) => {
  const tour = app.getByRole('region', { name: 'Tour' })
  await app.getByRole('button', { name: 'Start tour' }).click()
  const views = ['write', 'rehearse', 'prove', 'release', 'records']
  for (const [index, view] of views.entries()) {
    await expect(app).toHaveURL(new RegExp(`/${view}`))
    await expect(tour).toContainText(`${index + 1} of 5`)
    if (index === 2) expect(await violations(app)).toEqual([])
    await tour.getByRole('button', { name: index < 4 ? 'Next' : 'Finish' }).click()
  }
  await expect(tour).toBeHidden()
  await app.getByRole('link', { name: 'Overview' }).click()
  await expect(app.getByText('Needs attention').first()).toBeVisible()
  await expect(app.getByRole('button', { name: 'Start tour' })).toBeHidden()
  await app.getByRole('link', { name: 'Help' }).click()
  await app.getByRole('button', { name: 'Start tour' }).click()
  await expect(app).toHaveURL(/\/write/)
  await tour.getByRole('button', { name: 'Skip tour' }).click()
  await expect(tour).toBeHidden()
})
