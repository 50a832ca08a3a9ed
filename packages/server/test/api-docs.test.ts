import { execFile } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { readFolder } from '@patient-hook/core'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { App } from './app.js'

/** The examples of docs/api.md, run as they stand there, with curl, on the demo. */

const root = join(import.meta.dirname, '../../..')
const examples = [...readFileSync(join(root, 'docs/api.md'), 'utf8').matchAll(/```sh\n([\s\S]*?)```/g)].map(
  ([, script]) => script!,
)
const run = promisify(execFile)

let app: App
let key: string
beforeAll(async () => {
  app = await App.start({ files: () => Object.fromEntries(readFolder(join(root, 'demo'))) })
  key = (await app.ask<{ key: string }>('POST', '/keys', { name: 'docs', user: 'ines', scope: 'save' })).body.key
})
afterAll(() => app.end())

async function answer(script: string): Promise<unknown> {
  const { stdout } = await run('bash', ['-c', script], { env: { ...process.env, URL: app.base, KEY: key } })
  return JSON.parse(stdout)
}

test('there are as many as are looked at here', () => expect(examples).toHaveLength(3))

test('reading', async () => {
  const { records } = (await answer(examples[0]!)) as { records: { status: string; gross_mass_g: number }[] }
  expect(records.map(({ status }) => status)).toEqual(['stored', 'stored'])
  expect(records[0]!.gross_mass_g).toBeGreaterThanOrEqual(records[1]!.gross_mass_g)
})

test('saving, once', async () => {
  const first = (await answer(examples[1]!)) as { kept: boolean; records: Record<string, unknown>[] }
  expect(first).toMatchObject({
    kept: true,
    records: [
      { purpose: 'research', line_count: 1 },
      { lot: 1, packets: 2 },
    ],
  })
  expect(await answer(examples[1]!)).toEqual(first)
})

test('nothing is written over', async () => {
  expect(await answer(examples[2]!)).toMatchObject({ error: { code: 'save/changed-since', table: 'lot', field: 'bay' } })
})
