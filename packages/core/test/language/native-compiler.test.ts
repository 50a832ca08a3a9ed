import { existsSync, mkdirSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { spawnSync } from 'node:child_process'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { RULES } from '../../src/findings/index.js'
import { serviceOf } from '../../src/language/check.js'
import { faultyFiles, nativeCompiler } from '../../src/language/native-compiler.js'
import { diagnoseAll, NOT_SYNCHRONOUS } from '../../src/language/service.js'
import { declarations } from '../../src/model/declarations.js'
import { readFolder } from '../../src/model/folder.js'
import { parseProject } from '../../src/model/project.js'
import { CORPUS } from '../findings/corpus/index.js'

/**
 * The native compiler against the service that the editor has (TypeScript 6, the reference): the same files are well to both, of everything that stands
 * in this house and of what comes of it by chance.
 */

const demo = readFolder(join(import.meta.dirname, '../../../../demo'))
const isCode = (path: string) => /^plugins\/.+\.ts$/.test(path)
const tables = new Map([...demo].filter(([path]) => !path.startsWith('plugins/')))
const code = (literal: string) =>
  literal.startsWith('import') ? literal : `import { defineHook } from 'patient-hook'\nexport default defineHook(${literal})\n`
const alone = (path: string) => `plugins/vault/hooks/${path}.ts`

/** What both say of these files beside the demo's libraries. */
async function faulty(texts: ReadonlyMap<string, string>) {
  const files = new Map([...tables, ...[...demo].filter(([path]) => path.includes('/lib/')), ...texts])
  const project = { ...parseProject(tables), files }
  const paths = [...texts.keys()]
  const service = diagnoseAll(serviceOf(project), paths).filter((each) => each.code !== NOT_SYNCHRONOUS)
  const native = await faultyFiles({
    files: new Map([...files].filter(([path]) => isCode(path))),
    declarations: declarations(project),
  })
  expect(native).not.toBeNull()
  const why = (path: string) => `${path}: ${service.find(({ file }) => file === path)?.message ?? 'well'}\n${texts.get(path)}`
  return {
    service: new Set(service.map(({ file }) => file)),
    native: new Set([...native!].filter((path) => texts.has(path))),
    why,
  }
}

async function expectTheSame(texts: ReadonlyMap<string, string>) {
  const { service, native, why } = await faulty(texts)
  for (const path of texts.keys()) expect(native.has(path), why(path)).toBe(service.has(path))
  return service.size
}

test('the compiler for this machine is installed', () => {
  expect(nativeCompiler()?.version).toMatch(/^7\./)
})

describe('the same files are well', () => {
  test('of the demo: all', async () => {
    const texts = new Map([...demo].filter(([path]) => isCode(path)))
    expect(await expectTheSame(texts)).toBe(0)
  })

  test('of the examples of the rules, and of the corpus', async () => {
    const literals = [
      ...CORPUS.map((entry) => entry.hooks),
      ...RULES.flatMap(({ examples }) => [...examples.pass, ...examples.fail]),
    ].flatMap((each) => each.split('\n---\n'))
    const count = await expectTheSame(new Map(literals.map((each, index) => [alone(`e-${index}`), code(each)])))
    // Some of them say what TypeScript finds, too.
    expect(count).toBeGreaterThan(10)
    expect(count).toBeLessThan(literals.length)
  })

  test.each([
    `{ each(row, { near }) { row.now.notes = near }, load: () => ({ near: 'a' }), table: 'lot', moment: 'before-save' }`,
    `{ each(row, { near }) { row.now.notes = near }, load() { return { near: 'a' } }, table: 'lot', moment: 'before-save' }`,
    `{ table: 'lot', moment: 'before-save', each(row, { near }) { row.now.notes = near }, load({ rows }) { return { near: rows[0] } } }`,
    `{ table: 'lot', moment: 'before-save', each: (row, near) => { row.now.notes = near }, load: ({ rows }) => String(rows.length) }`,
    `{ table: 'lot', moment: 'before-save', each: (row, near) => { row.now.notes = near }, load: () => 1 }`,
    `{ table: 'lot', moment: 'before-save', each(this: { x: number }, row) { row.now.notes = this.x } }`,
    `{ table: 'lot', moment: 'before-save', each(row) { const { toFixed } = row.now.gross_mass_g ?? 1; toFixed(2) } }`,
    `{ table: 'lot', moment: 'before-save', each(row) { for (const x of [row.now.notes!].values().map((y) => y)) void x } }`,
    `{ table: 'lot', moment: 'before-save', each(row) { row.now.notes = ['b', 'a'].toSorted().with(0, 'c').at(-1)! } }`,
    `{ table: 'lot', moment: 'before-save', each(row) { row.now.notes = Object.groupBy(['b'], (x) => x)['b']![0]! } }`,
    `{ table: 'lot', moment: 'before-save', each(row) { const m = new Map<string, number>(); row.now.gross_mass_g = m.get('a') } }`,
    `{ table: 'lot', moment: 'before-save', each(row) { enum E { A, B }; row.now.gross_mass_g = E.B } }`,
    `{ table: 'lot', moment: 'before-save', each(row) { row.now.notes satisfies string; delete row.now.notes } }`,
    `{ table: 'lot', moment: 'before-save', each(row) { if (row.now.notes === 'a' && row.now.notes === 'b') void row } }`,
    `{ table: 'lot', moment: 'before-save', each(row) { return row.now.notes as unknown as number } }`,
    `{ table: 'lot', moment: 'before-save', each(row) { /a(?<b>c)\\k<d>/.test('x'); void row } }`,
    `{ table: 'lot', moment: 'before-save', each(row) { ((a: 1 | 2 | 3): asserts a is 1 => {})(2); void row } }`,
  ])('%s', async (literal) => {
    await expectTheSame(new Map([[alone('h'), code(literal)]]))
  })

  test('of the demo, changed by chance', async () => {
    const texts = [...demo].filter(([path]) => isCode(path)).map(([, text]) => text)
    const words = [...new Set(texts.join(' ').match(/[A-Za-z_]+|[{}()[\].,;:?!=<>+*&|-]+|\d+|'[^'\n]*'/g))]
    const change = fc.record({ at: fc.nat(), drop: fc.nat(2), put: fc.option(fc.constantFrom(...words), { nil: '' }) })
    const changed = fc
      .record({ text: fc.constantFrom(...texts), changes: fc.array(change, { minLength: 1, maxLength: 2 }) })
      .map(({ text, changes }) => {
        const parts = text.split(/(?<=\w)(?!\w)|(?<!\w)(?=\w)/)
        for (const { at, drop, put } of changes) parts.splice(at % parts.length, drop, put)
        return parts.join('')
      })
    const count = Number(process.env['COMPILER_CHANGES'] ?? 120)
    const made = fc.sample(changed, { numRuns: count, seed: Number(process.env['COMPILER_SEED'] ?? Date.now()) })
    await expectTheSame(new Map(made.map((text, index) => [alone(`c-${index}`), text])))
  })
})

describe('what it is asked', () => {
  const ground = (files: Record<string, string>) => ({ files: new Map(Object.entries(files)), declarations: '' })
  const wrong = 'export const n: number = "x"'
  const asked = async (files: Record<string, string>) => {
    const answer = await faultyFiles(ground(files))
    return answer && [...answer].sort()
  }

  test('a file that cannot be read hides nothing of the others', async () => {
    expect(
      await asked({
        'plugins/p/a.ts': 'export const = 1',
        'plugins/p/b.ts': wrong,
        'plugins/p/c.ts': `import './a'\nexport {}`,
        'plugins/p/d.ts': 'export const n: number = 1',
      }),
    ).toEqual(['plugins/p/a.ts', 'plugins/p/b.ts', 'plugins/p/c.ts'])
  })

  test('an error that is of no file is no answer', async () => {
    // TypeScript looks for a type that these libraries do not have.
    expect(await asked({ 'plugins/p/a.ts': 'export function f() { using x = null; void x }' })).toBeNull()
  })

  test('names with signs of every kind', async () => {
    expect(await asked({ 'plugins/p/ä (1,2) – x.ts': wrong, "plugins/p/it's.ts": wrong })).toEqual([
      "plugins/p/it's.ts",
      'plugins/p/ä (1,2) – x.ts',
    ])
  })

  test.each([
    ['out of the folder', { 'plugins/../../x.ts': wrong }],
    ['no code of a plugin', { 'x.ts': wrong }],
    ['two that are one on some file systems', { 'plugins/p/a.ts': wrong, 'plugins/p/A.ts': wrong }],
    ['the same by accents', { 'plugins/p/\u00e4.ts': wrong, 'plugins/p/a\u0308.ts': wrong }],
    ['a stream of a file', { 'plugins/p/a.ts:b.ts': wrong }],
    ['another folder in the name', { 'plugins/p\\..\\..\\..\\a.ts': wrong }],
  ])('is not answered where a path is %s', async (_, files) => {
    expect(await asked(files as unknown as Record<string, string>)).toBeNull()
  })

  test('leaves no folder behind, nor one of a process that was killed', async () => {
    const { pid } = spawnSync('true')
    const forgotten = join(tmpdir(), `patient-hook-types-${pid}-x`)
    mkdirSync(forgotten)
    const living = join(tmpdir(), `patient-hook-types-${process.ppid}-x`)
    mkdirSync(living)
    try {
      expect(await asked({ 'plugins/p/a.ts': wrong })).toEqual(['plugins/p/a.ts'])
      expect(existsSync(forgotten)).toBe(false)
      expect(existsSync(living)).toBe(true)
      expect(readdirSync(tmpdir()).filter((name) => name.startsWith(`patient-hook-types-${process.pid}-`))).toEqual([])
    } finally {
      rmSync(living, { recursive: true })
    }
  })
})
