import { randomUUID } from 'node:crypto'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { openWorkbench } from '@patient-hook/core'
import { expect, test } from 'vitest'
import { filesOf, hook, text } from '../world.js'

/** What an engine has computed is on disk when it has ended, so that the next one begins with it. */

const cache = join(dirname(createRequire(import.meta.url).resolve('typescript/package.json')), '..', '.cache', 'patient-hook')
const isKept = (kind: string, mark: string): boolean =>
  readdirSync(cache)
    .map((name) => join(cache, name, `${kind}.bin`))
    .some((path) => existsSync(path) && readFileSync(path).includes(mark))

const open = (mark: string) =>
  openWorkbench(
    Object.fromEntries(
      filesOf({
        tables: { item: { fields: { name: text } } },
        hooks: { [mark]: hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.name = '${mark}' } }`) },
      }),
    ),
    { size: 1 },
  )

test('its compiled modules and what hooks define', async () => {
  const mark = `m${randomUUID().slice(0, 8)}`
  const engines = open(mark)
  await engines.call('testFiles', [undefined])
  await engines.close()
  expect(isKept('compiled-plain', mark)).toBe(true)
  expect(isKept('hook-definitions', mark)).toBe(true)
})

test('while it goes on and nobody asks for anything', async () => {
  const mark = `m${randomUUID().slice(0, 8)}`
  const engines = open(mark)
  try {
    await engines.call('testFiles', [undefined])
    await expect.poll(() => isKept('compiled-plain', mark), { timeout: 30_000 }).toBe(true)
  } finally {
    await engines.close()
  }
})
