import { mkdtempSync, rmSync, utimesSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { expect, test } from 'vitest'
import { bundleOf } from '../src/bundle.js'

test('a bundle is used until the next build it was made', () => {
  const folder = mkdtempSync(join(tmpdir(), 'bundle-'))
  const [module, bundle, build] = ['worker.js', 'worker.bundle.cjs', '.tsbuildinfo'].map((name) => join(folder, name)) as [
    string,
    string,
    string,
  ]
  const chosen = () => bundleOf(pathToFileURL(module), [pathToFileURL(build)])?.href ?? null
  writeFileSync(module, '')
  writeFileSync(build, '')
  expect(chosen()).toBeNull()
  writeFileSync(bundle, '')
  utimesSync(build, 1000, 1000)
  expect(chosen()).toBe(pathToFileURL(bundle).href)
  utimesSync(bundle, 999, 999)
  expect(chosen()).toBeNull()
  rmSync(folder, { recursive: true, force: true })
})
