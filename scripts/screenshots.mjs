// Takes the pictures of docs/screenshots from a running application with fresh demo data: node scripts/screenshots.mjs URL [NAME …]
import { chromium } from '@playwright/test'

const [url, ...only] = process.argv.slice(2)
const folder = 'docs/screenshots'
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] })

// The link lets in once; each picture then begins with its session and nothing else.
const entered = await browser.newContext()
await (await entered.newPage()).goto(url)
const storageState = { cookies: await entered.cookies(), origins: [] }
await entered.close()

async function picture(name, path, { dark = false, act = async () => {} } = {}) {
  if (only.length > 0 && !only.includes(name)) return
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, storageState })
  const page = await context.newPage()
  await page.goto(new URL('/model', url).href)
  await page.evaluate((value) => localStorage.setItem('patient-hook:dark', String(value)), dark)
  await page.goto(new URL(path, url).href)
  await page.waitForLoadState('networkidle')
  await act(page)
  await page.waitForTimeout(700)
  await page.screenshot({ path: `${folder}/${name}.png` })
  await context.close()
}

/** Asks the application as its interface does. */
const ask = (page, method, path, body) =>
  page.evaluate(
    async ([how, where, what]) =>
      (
        await fetch(`/api${where}`, {
          method: how,
          headers: { 'content-type': 'application/json' },
          body: what && JSON.stringify(what),
        })
      ).json(),
    [method, path, body],
  )

async function typeCode(page, change) {
  const editor = page.getByRole('textbox', { name: 'Code of the hook' })
  // The editor draws only the lines in sight: the whole text comes from the server.
  const text = await page.evaluate(async () => {
    const path = document.querySelector('.file').textContent
    return (await (await fetch(`/api/file?path=${path}`)).json()).text
  })
  await editor.click()
  await page.keyboard.press('Control+a')
  await page.keyboard.insertText(change(text))
}

/** Chooses an option of a select by its title. */
async function choose(page, label, title) {
  const field = page.getByLabel(label, { exact: true })
  await field.locator('xpath=ancestor-or-self::*[contains(concat(" ", @class, " "), " v-field ")]').click()
  await page.locator('.v-overlay--active').last().getByRole('option', { name: title, exact: true }).click()
}

const chooseCell = async (page) => {
  await page.locator('td.now').first().click()
  await page.locator('.cm-chosenLine').waitFor()
}
await picture('write', '/write/lot-mass', { act: chooseCell })
const heavier = async (page) => {
  await page.locator('input[name=gross_mass_g]').fill('40')
  await page.getByText('set to 28 by lot-mass').waitFor()
}
await picture('rehearse', '/rehearse/lot/1?on=base', { act: heavier })
await picture('rehearse-steps', '/rehearse/lot/1?on=base', {
  act: async (page) => {
    await heavier(page)
    await page.getByRole('tab', { name: 'Steps' }).click()
    for (let i = 0; i < 5; i++) await page.getByRole('button', { name: 'Next line' }).click()
  },
})
await picture('rehearse-compare-dark', '/rehearse/lot/1?on=base', {
  dark: true,
  act: async (page) => {
    await heavier(page)
    await page.getByRole('tab', { name: 'Compare' }).click()
    await page.getByRole('button', { name: 'Set as baseline' }).click()
    await page.locator('input[name=gross_mass_g]').fill('90')
    await page.getByRole('row', { name: /net_mass_g/ }).waitFor()
  },
})
await picture('model', '/model/lot')
await picture('help', '/help/guide')
/** What is being measured has come to its end. */
async function proved(page) {
  const running = page.locator('[data-test=progress]')
  await running.first().waitFor()
  await page.waitForFunction(() => document.querySelectorAll('[data-test=progress]').length === 0, null, { timeout: 600_000 })
}
await picture('prove', '/prove/lot-mass', {
  act: async (page) => {
    await page.getByRole('button', { name: 'Run all proofs' }).click()
    await proved(page)
    await page.getByRole('tab', { name: 'Bulk proof' }).click()
  },
})
await picture('prove-mistakes', '/prove/lot-mass', {
  act: async (page) => {
    const text = `import { test, expect } from 'patient-hook/test'\ntest('one', () => expect(1).toBe(1))\n`
    await page.evaluate(
      (value) => localStorage.setItem('patient-hook:drafts', JSON.stringify({ 'plugins/vault/tests/closely.test.ts': value })),
      text,
    )
    await page.reload()
    await page.getByRole('button', { name: 'Run proofs of lot-mass' }).click()
    await proved(page)
    await page.getByRole('tab', { name: 'Mutations' }).click()
  },
})
await picture('fixtures', '/fixtures/base/lot', {
  act: async (page) => {
    const tare = page.locator('tbody tr[aria-rowindex="2"]').getByRole('gridcell').nth(5)
    await tare.click()
    await page.keyboard.type('-3')
    await page.keyboard.press('Enter')
    await page.getByLabel('Problems').waitFor()
    await page.getByRole('button', { name: 'Add from records…' }).click()
    await page.getByRole('navigation', { name: 'Live records' }).getByRole('listitem').first().waitFor()
  },
})
await picture('prove-dark', '/write/lot-mass', {
  dark: true,
  act: async (page) => {
    const cached = 'let first: number | null = null\n\nexport default'
    await typeCode(page, (text) =>
      text.replace('export default', cached).replace('= Math.round((gross - tare) * 1000) / 1000', '= first ??= gross - tare'),
    )
    await page.keyboard.press('Alt+5')
    await page.getByRole('button', { name: 'lot-mass', exact: true }).click()
    for (const part of ['findings', 'tests and coverage', 'mutations']) await page.getByLabel(part, { exact: true }).uncheck()
    await page.getByRole('button', { name: 'Run proofs of lot-mass' }).click()
    await page.getByText(/5 hold, 0 accepted, 3 do not hold/).waitFor({ timeout: 60_000 })
    await page
      .getByText(/one at a time net_mass_g/)
      .first()
      .scrollIntoViewIfNeeded()
  },
})
await picture('records', '/records/lot/3', { act: (page) => page.locator('input[name=tare_mass_g]').fill('12') })
// With scripts/many-lots.sql in the data, to show a list as long as that.
const filter = encodeURIComponent(JSON.stringify({ status: { eq: 'stored' }, net_mass_g: { gte: 1000 } }))
await picture('records-list', `/records/lot?order=species,-net_mass_g&where=${filter}`, {
  act: async (page) => {
    const boxes = page.locator('tbody input[type=checkbox]')
    await boxes.nth(1).click()
    await boxes.nth(3).click({ modifiers: ['Shift'] })
    await page.getByRole('button', { name: 'Change…' }).click()
    await choose(page, 'Field to set', 'Tare mass (g)')
    await page.getByRole('textbox', { name: 'Tare mass (g)' }).fill('15')
    await page.getByRole('button', { name: 'Preview' }).click()
    await page.getByRole('table', { name: 'Preview' }).waitFor()
  },
})
await picture('backfill', '/backfills?table=collection', {
  act: async (page) => {
    await page.getByLabel('assign numbers').check()
    await choose(page, 'Number field', 'Collection number')
    await choose(page, 'Sequence', 'one sequence per Kind')
    for (const kind of ['wild', 'garden']) await choose(page, `Sequence for ${kind}`, kind)
    await page.getByRole('button', { name: 'Add condition' }).click()
    await choose(page, 'Field 1', 'Collected on')
    await choose(page, 'Comparison 1', 'is at least')
    await page.getByLabel('Value 1').fill('2020-01-01')
    await page.getByRole('button', { name: 'Preview', exact: true }).click()
    await page.getByRole('table', { name: 'Samples' }).waitFor()
  },
})
// Saves, so it comes last.
await picture('rehearse-replay', '/rehearse/lot/1?on=live', {
  act: async (page) => {
    await page.evaluate(async () => {
      const ask = async (path, body) =>
        (
          await fetch(`/api${path}`, {
            method: body ? 'POST' : 'GET',
            headers: { 'content-type': 'application/json' },
            body: body && JSON.stringify(body),
          })
        ).json()
      for (let id = 1; id <= 8; id++)
        await ask('/saves', {
          user: 'bram',
          rows: [{ table: 'lot', id, values: { gross_mass_g: 20 + id + id / 10, tare_mass_g: 5 } }],
        })
      const path = 'plugins/vault/hooks/lot-mass.ts'
      const { text } = await ask(`/file?path=${path}`)
      const drafts = { [path]: text.replace('Math.round((gross - tare) * 1000) / 1000', 'Math.round(gross - tare)') }
      localStorage.setItem('patient-hook:drafts', JSON.stringify(drafts))
    })
    await page.reload()
    await page.getByRole('tab', { name: 'Replay' }).click()
    await page.getByRole('button', { name: 'Replay saves' }).click()
    await page.getByText(/different/).waitFor()
  },
})
await picture('records-why-dark', '/records/collection', {
  dark: true,
  act: async (page) => {
    const { records } = await page.evaluate(async () => (await fetch('/api/tables/collection/records?limit=1')).json())
    const [{ id, site }] = records
    for (const [district, user] of [
      ['High Fell', 'bram'],
      ['Saltings', 'ines'],
    ])
      await ask(page, 'POST', '/saves', { user, rows: [{ table: 'site', id: site, values: { district } }] })
    await page.goto(new URL(`/records/collection/${id}?why=district`, url).href)
    await page
      .getByRole('region', { name: /^Origin/ })
      .getByRole('listitem')
      .nth(1)
      .waitFor()
  },
})
const rewrite = async (page, file, change) => {
  const { text } = await ask(page, 'GET', `/file?path=${file}`)
  await ask(page, 'PUT', '/files', { files: { [file]: change(text) } })
}
const release = async (page, wish) => {
  const { id } = await ask(page, 'POST', '/releases', { ...wish, withoutGate: true })
  while ((await ask(page, 'GET', `/jobs/${id}`)).job.state === 'running');
}
await picture('release', '/release/vault', {
  act: async (page) => {
    await rewrite(page, 'plugins/vault/hooks/collection-label.ts', (text) => text.replace("join(' / ')", "join(' · ')"))
    await rewrite(page, 'plugins/vault/hooks/lot-mass.ts', (text) =>
      text.replace('export default', '// Masses are those of dry seed.\nexport default'),
    )
    await page.reload()
    await page.getByRole('button', { name: 'Run release checks' }).click()
    await page.locator('.gate .holds, .gate .broken').nth(5).waitFor({ timeout: 120_000 })
    await page.getByLabel('Pilot users first').check()
    await page.getByLabel('Ines Marl, requests desk').check()
    await page.getByLabel('Release note').fill('Labels with a dot in the middle')
  },
})
const copied = 'plugins/requests/hooks/lot-copied.ts'
await picture('release-versions', '/release/requests', {
  act: async (page) => {
    await rewrite(page, copied, (text) => text.replace('copied from lot', 'a copy of lot'))
    await release(page, { plugin: 'requests', note: 'Says that it is a copy', reason: 'the packers asked for it' })
    await rewrite(page, copied, (text) => text.replace("].filter((part) => part).join('; ')", "].filter(Boolean).join(', ')"))
    await release(page, { plugin: 'requests', part: 'minor', note: 'Commas', reason: 'tried first', pilots: ['ines'] })
    for (let id = 1; id <= 24; id++)
      await ask(page, 'POST', '/saves', {
        user: id % 3 === 0 ? 'ines' : 'bram',
        rows: [{ table: 'lot', copyOf: id, values: {} }],
      })
    await page.reload()
    await page.getByRole('tab', { name: 'Versions' }).click()
    await page.locator('[data-test=diff]').waitFor()
  },
})
await picture('saves-dark', '/saves', {
  dark: true,
  act: async (page) => {
    await page.evaluate(async () => {
      const save = (row) =>
        fetch('/api/saves', {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ rows: [row] }),
        })
      for (let id = 1; id <= 30; id++) await save({ table: 'lot', id, values: { handling_notes: `looked at on day ${id}` } })
      for (let id = 1; id <= 4; id++) await save({ table: 'request_line', id, values: { packets: 99_999 } })
    })
    await page.reload()
    await page.getByRole('table', { name: 'Time by hook' }).waitFor()
  },
})
await picture('overview', '/')
await browser.close()
