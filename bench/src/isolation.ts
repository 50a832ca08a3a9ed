import { mkdtempSync, rmSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import { join } from 'node:path'
import { readFolder } from '@patient-hook/core'
import { startServer } from '@patient-hook/server'

/**
 * Live saves beside drafts that mean harm, in the real server: node dist/isolation.js [ROUNDS]. For each kind of draft, on fixtures and on
 * the live records, 200 saves of one record while the draft is in the sheet; then how long after the stop the next sheet is there.
 */
const rounds = Number(process.argv[2] ?? 3)
const SAVES = 200
/** Sheets between two mistakes. */
const TYPED = 40
const file = 'plugins/vault/hooks/lot-mass.ts'
const draft = (body: string) =>
  `import { defineHook } from 'patient-hook'\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) {\n  ${body}\n  void row\n} })\n`
const DRAFTS: Record<string, string | null> = {
  'no draft (nothing is tried)': null,
  'a draft that is well': `row.now.handling_notes ??= 'dry'`,
  'a loop': `for (;;) ;`,
  'a pattern that backtracks': `/^(a+)+$/.test('a'.repeat(40) + '!')`,
  'memory that fills': `const all: unknown[] = []; for (;;) all.push(new Array(1e5).fill(all.length))`,
}

const folder = mkdtempSync(join(tmpdir(), 'isolation-'))
const demo = join(import.meta.dirname, '../../demo')
const server = await startServer({ files: () => Object.fromEntries(readFolder(demo)), dataFolder: folder, port: 0, fresh: true })
const entered = await fetch(server.url, { redirect: 'manual' })
const cookie = entered.headers.get('set-cookie')!.split(';')[0]!
const ask = async (path: string, body: unknown) => {
  const begun = performance.now()
  const response = await fetch(`http://127.0.0.1:${server.port}/api${path}`, {
    method: 'POST',
    headers: { cookie, 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
  const answer = (await response.json()) as { error?: { code: string } | null }
  return { status: response.status, answer, ms: performance.now() - begun, at: performance.now() }
}
const sheet = (body: string | null, fixtures?: string) =>
  ask('/sheet', { table: 'lot', event: 'create', fixtures, ...(body === null ? {} : { drafts: { [file]: draft(body) } }) })
const quantile = (values: number[], part: number) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * part))]!
const show = (ms: number) => `${Math.round(ms)} ms`

console.log(`${cpus()[0]!.model}, ${cpus().length} processors, Node ${process.version}; ${rounds} rounds of ${SAVES} saves each`)
console.log(
  '| while in the sheet | on | saves p50 | p99 | worst | failed | sheet’s own error | next sheet after the stop, median |',
)
console.log('|---|---|---|---|---|---|---|---|')
await sheet(null, 'vault')
let n = 0
for (const [what, body] of Object.entries(DRAFTS))
  for (const fixtures of ['vault', undefined]) {
    const times: number[] = []
    const next: number[] = []
    let failed = 0
    let said = ''
    for (let round = 0; round < rounds; round++) {
      const tried = body === null ? null : sheet(body, fixtures)
      for (let i = 0; i < SAVES; i++) {
        const { status, ms } = await ask('/saves', { rows: [{ table: 'lot', values: { id: (n++ % 500) + 1, bay: `B${n}` } }] })
        times.push(ms)
        if (status !== 201) failed++
      }
      if (!tried) continue
      const { answer } = await tried
      said = answer.error?.code ?? '–'
      next.push((await sheet(null, 'vault')).ms)
      // A user who wrote that types on for a while before the next mistake.
      for (let i = 0; i < TYPED; i++) await sheet(null, 'vault')
    }
    console.log(
      `| ${what} | ${fixtures ? 'fixtures' : 'records'} | ${show(quantile(times, 0.5))} | ${show(quantile(times, 0.99))} | ${show(Math.max(...times))} | ${failed} | ${said || '–'} | ${next.length ? show(quantile(next, 0.5)) : '–'} |`,
    )
  }
await server.close()
rmSync(folder, { recursive: true, force: true })
