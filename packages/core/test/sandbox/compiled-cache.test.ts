import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { expect, test, vi } from 'vitest'
import { keepOnDisk, writeKept } from '../../src/disk/kept-on-disk.js'
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

const packs = () =>
  readdirSync(cache)
    .map((name) => join(cache, name, 'compiled-plain.bin'))
    .filter((path) => existsSync(path))
const newest = () => packs().sort((a, b) => statSync(b).mtimeMs - statSync(a).mtimeMs)[0]!

/** What another process finds there. */
async function readAnew(): Promise<typeof readCompiled> {
  vi.resetModules()
  const { keepOnDisk: keep } = await import('../../src/disk/kept-on-disk.js')
  keep()
  return (await import('../../src/sandbox/compiled-cache.js')).readCompiled
}

test('another process finds it once it is written; a module takes the place of its earlier text; a damaged file is as none', async () => {
  keepOnDisk()
  writeCompiled(compileModule(file, text, 9), text, 9, 'plain')
  expect((await readAnew())(file, text, 9, 'plain')).toBeNull()
  writeKept()
  expect((await readAnew())(file, text, 9, 'plain')).toEqual(compileModule(file, text, 9))
  const later = text.replace('++kept', 'kept + 2')
  writeCompiled(compileModule(file, later, 9), later, 9, 'plain')
  const { size } = statSync(newest())
  writeKept()
  expect(Math.abs(statSync(newest()).size - size)).toBeLessThan(200)
  expect((await readAnew())(file, text, 9, 'plain')).toBeNull()
  expect((await readAnew())(file, later, 9, 'plain')!.code).toContain('kept + 2')
  writeFileSync(newest(), readFileSync(newest()).subarray(0, 40))
  expect((await readAnew())(file, later, 9, 'plain')).toBeNull()
})

test('what a process beside this one has written stays', async () => {
  keepOnDisk()
  writeCompiled(compileModule(file, text, 10), text, 10, 'plain')
  writeKept()
  vi.resetModules()
  const beside = await import('../../src/disk/kept-on-disk.js')
  beside.keepOnDisk()
  const cacheBeside = await import('../../src/sandbox/compiled-cache.js')
  cacheBeside.writeCompiled(compileModule(file, text, 11), text, 11, 'plain')
  beside.writeKept()
  writeCompiled(compileModule(file, text, 12), text, 12, 'plain')
  writeKept()
  const read = await readAnew()
  expect([10, 11, 12].map((number) => read(file, text, number, 'plain') !== null)).toEqual([true, true, true])
})

test('where it can be neither read nor written, nothing is kept and nothing fails', async () => {
  keepOnDisk()
  const path = newest()
  rmSync(path)
  mkdirSync(path)
  try {
    writeCompiled(compileModule(file, text, 13), text, 13, 'plain')
    expect(() => writeKept()).not.toThrow()
    expect(readdirSync(dirname(path)).filter((name) => name.startsWith('compiled-plain'))).toEqual(['compiled-plain.bin'])
    expect((await readAnew())(file, text, 13, 'plain')).toBeNull()
  } finally {
    rmSync(path, { recursive: true })
  }
})
