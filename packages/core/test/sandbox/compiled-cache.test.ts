import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { expect, test } from 'vitest'
import { keepOnDisk } from '../../src/language/kept-on-disk.js'
import { compileModule } from '../../src/sandbox/compile.js'
import { readCompiled, writeCompiled } from '../../src/sandbox/compiled-cache.js'

/** Compiled modules on disk are given back as they were compiled, for the same text only, and never with an error. */

const file = `plugins/cache-${process.pid}/hooks/h.ts`
const text = `import { defineHook } from 'patient-hook'
let kept = 0
export default defineHook({ table: 'lot', moment: 'before-save', only: (row) => row.now.net === null, each(row) { row.now.net = ++kept } })
`
const cache = join(dirname(createRequire(import.meta.url).resolve('typescript/package.json')), '..', '.cache', 'patient-hook')

test('before it is asked for, nothing is kept', () => {
  writeCompiled(compileModule(file, text, 7), text, 7, 'plain')
  expect(readCompiled(file, text, 7, 'plain')).toBeNull()
})

test('what was kept is what was compiled, by text, number and equipment', () => {
  keepOnDisk()
  for (const equipment of ['plain', 'probed', 'counted'] as const) {
    const compiled = compileModule(file, text, 7, equipment)
    writeCompiled(compiled, text, 7, equipment)
    expect(readCompiled(file, text, 7, equipment)).toEqual(compiled)
  }
  expect(readCompiled(file, text, 7, 'plain')!.parts).toBeInstanceOf(Map)
  expect(readCompiled(file, text, 8, 'plain')).toBeNull()
  expect(readCompiled(file, `${text}\n`, 7, 'plain')).toBeNull()
  expect(readCompiled(file.replace('h.ts', 'other.ts'), text, 7, 'plain')).toBeNull()
})

test('a module takes the place of its earlier text; a damaged file is as none', () => {
  keepOnDisk()
  const folders = () =>
    readdirSync(cache)
      .map((name) => join(cache, name, 'compiled'))
      .filter((folder) => existsSync(folder))
  const files = () => folders().flatMap((folder) => readdirSync(folder).map((name) => join(folder, name)))
  writeCompiled(compileModule(file, text, 9), text, 9, 'plain')
  const before = files()
  const later = text.replace('++kept', 'kept + 2')
  writeCompiled(compileModule(file, later, 9), later, 9, 'plain')
  expect(files()).toEqual(before)
  expect(readCompiled(file, text, 9, 'plain')).toBeNull()
  expect(readCompiled(file, later, 9, 'plain')!.code).toContain('kept + 2')
  const [newest] = [...before].sort((a, b) => statSync(b).mtimeMs - statSync(a).mtimeMs)
  writeFileSync(newest!, readFileSync(newest!).subarray(0, 40))
  expect(readCompiled(file, later, 9, 'plain')).toBeNull()
})
