import { spawn, spawnSync } from 'node:child_process'
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Page } from '@playwright/test'
import { readFolder } from '@patient-hook/core'
import { startServer, type RunningServer } from '@patient-hook/server'
import { largeProject, writeProject } from './large-project.js'
import { median } from './median.js'

/**
 * What is waited for in a project of 120 tables, 600 hooks and 1,200 unit tests: node dist/large.js [ROUNDS] [--write FILE]. The commands are cold
 * processes; the application is started in this process and looked at in Chromium.
 */
const rounds = Number(process.argv.slice(2).find((each) => /^\d+$/.test(each)) ?? 3)
const writeAt = process.argv.indexOf('--write')
const folder = mkdtempSync(join(tmpdir(), 'large-'))
const project = join(folder, 'project')
const { files, of } = largeProject()
writeProject(project, files)
const cli = join(import.meta.dirname, '../../packages/cli/bin/patient-hook.js')
const seconds = new Map<string, number[]>()
const note = (what: string, ms: number) => seconds.set(what, [...(seconds.get(what) ?? []), ms / 1000])

/** What earlier processes computed of this project and others, as on a machine where nobody ran anything yet. */
function forgetKept(): void {
  const cache = join(import.meta.dirname, '../../node_modules/.cache/patient-hook')
  for (const entry of readdirSync(cache, { withFileTypes: true }))
    if (entry.isDirectory()) rmSync(join(cache, entry.name), { recursive: true })
}

function command(name: string, when = ''): void {
  const begun = performance.now()
  const { status, stdout, stderr } = spawnSync('node', [cli, name, project], { encoding: 'utf8' })
  note(`\`${name}\`, cold${when}`, performance.now() - begun)
  if (status !== 0) throw new Error(`${name}: ${stdout.slice(-2000)} ${stderr.slice(-2000)}`)
}

/** From the command to the line that says where the application is. */
async function start(when = ''): Promise<void> {
  const begun = performance.now()
  const child = spawn('node', [cli, 'serve', project, '--port', '0', '--data', mkdtempSync(join(folder, 'data-'))])
  await new Promise<void>((done, fail) => {
    let text = ''
    child.stdout.on('data', (more: Buffer) => {
      text += more.toString()
      if (/http:\/\//.test(text)) done()
    })
    child.on('exit', (code) => fail(new Error(`serve ended with ${code}: ${text}`)))
  })
  note(`start of the application${when}`, performance.now() - begun)
  child.removeAllListeners('exit')
  const ended = new Promise((done) => child.on('exit', done))
  child.kill('SIGTERM')
  await ended
}

const [table] = of.tables
const hook = `${table!.replaceAll('_', '-')}-total`
const hookFile = [...files.keys()].find((file) => file.endsWith(`/hooks/${hook}.ts`))!

async function write(page: Page, url: string): Promise<void> {
  let begun = performance.now()
  await page.goto(new URL(`/write/${hook}`, url).href)
  await page.locator('.cm-content').first().waitFor()
  note('first paint of Write: the code of a hook', performance.now() - begun)
  await page.locator('td.now').first().waitFor()
  note('first effect sheet, from the same click', performance.now() - begun)
  await page.getByLabel('Rows of').selectOption('many')
  await page.waitForFunction(() => document.querySelector('.ribbon.busy') === null)
  await page.locator('.cm-content').first().click()
  for (let index = 0; index < 4; index++) {
    await page.keyboard.press('Control+End')
    // What was typed has had its sheet: what is kept is measured alone.
    const sheet = page.waitForResponse((response) => response.url().endsWith('/api/sheet') && response.ok())
    await page.keyboard.type(`\n// kept ${index}`)
    await sheet
    const kept = page.waitForResponse((response) => response.request().method() === 'PUT' && response.ok())
    const again = kept.then(() => page.waitForResponse((response) => response.url().endsWith('/api/sheet') && response.ok()))
    begun = performance.now()
    await page.keyboard.press('Control+s')
    await kept
    note(
      `keeping a file, from Ctrl+S in the page${index === 0 ? ', right after the page was loaded' : ''}`,
      performance.now() - begun,
    )
    // What was kept has had its sheet before anybody types on.
    await again
  }
}

/** Over HTTP, without a browser beside it. */
async function ask(server: RunningServer, when = ''): Promise<void> {
  const entered = await fetch(server.url, { redirect: 'manual' })
  const origin = new URL(server.url).origin
  const headers = { origin, 'content-type': 'application/json', cookie: entered.headers.getSetCookie()[0]!.split(';')[0]! }
  const timed = async (what: string, method: string, path: string, body: object, fails = false) => {
    const begun = performance.now()
    const answer = await fetch(`${origin}/api/${path}`, { method, headers, body: JSON.stringify(body) })
    const text = await answer.text()
    if (answer.ok === fails) throw new Error(`${path}: ${text}`)
    note(what, performance.now() - begun)
  }
  const sheet = { table: table!, event: 'create', fixtures: 'many', user: 'ada' }
  await timed(`the first sheet, asked for as soon as the application has started${when}`, 'POST', 'sheet', sheet)
  if (when) return
  await timed('the next one', 'POST', 'sheet', { ...sheet, event: 'update' })
  const stuck = { [hookFile]: files.get(hookFile)!.replace('each(row) {', `each(row) { /^(a+)+$/.test('a'.repeat(40) + '!')\n`) }
  for (const drafts of [stuck, stuck]) {
    await timed('a draft that hangs, until it is stopped (3 s of it are waited for)', 'POST', 'sheet', { ...sheet, drafts }, true)
    await timed('the next sheet after that', 'POST', 'sheet', sheet)
    // A user who wrote that types on for a while before the next mistake.
    for (let index = 0; index < 40; index++)
      await timed('a sheet while typing', 'POST', 'sheet', {
        ...sheet,
        drafts: { [hookFile]: `${files.get(hookFile)!}// ${index}` },
      })
  }
  for (const text of ['a', 'b', 'c'])
    await timed('keeping a file, without a browser', 'PUT', 'files', {
      files: { [hookFile]: `${files.get(hookFile)!}// ${text}\n` },
    })
}

const FIRST = ', where no changes were saved yet'
for (let round = 0; round < rounds; round++) {
  for (const name of ['check', 'test']) {
    forgetKept()
    command(name, FIRST)
  }
  forgetKept()
  await start(FIRST)
}
for (let round = 0; round < rounds; round++) {
  command('check')
  command('test')
  await start()
}
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update', '--no-first-run'],
})
try {
  const serve = () =>
    startServer({
      files: () => Object.fromEntries(readFolder(project)),
      dataFolder: mkdtempSync(join(folder, 'served-')),
      port: 0,
      fresh: true,
    })
  for (let round = 0; round < rounds; round++) {
    forgetKept()
    const first = await serve()
    await ask(first, FIRST)
    await first.close()
    const asked = await serve()
    await ask(asked)
    await asked.close()
    const server = await serve()
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
    const page = await context.newPage()
    page.setDefaultTimeout(60_000)
    await page.goto(server.url)
    await write(page, page.url())
    await context.close()
    await server.close()
  }
} finally {
  await browser.close()
  rmSync(folder, { recursive: true, force: true })
}
const lines = [
  `${of.tables.length} tables, ${of.hooks} hooks, ${of.tests} unit tests; medians of ${rounds}`,
  '',
  '| what | s | longest |',
  '|---|---|---|',
  ...[...seconds].map(([what, values]) => `| ${what} | ${median(values).toFixed(2)} | ${Math.max(...values).toFixed(2)} |`),
  '',
  `Machine: ${cpus().length} × ${cpus()[0]!.model}, Node ${process.version}; ${new Date().toISOString().slice(0, 10)}.`,
]
console.log(lines.join('\n'))
if (writeAt > 0) writeFileSync(process.argv[writeAt + 1]!, lines.join('\n') + '\n')
