import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { serviceOf } from '../../src/language/check.js'
import { diagnose } from '../../src/language/service.js'
import { definitionAt, renameAt, signatureAt } from '../../src/language/navigate.js'
import { applyMend } from '../../src/findings/index.js'
import { readFolder } from '../../src/model/folder.js'
import { parseProject } from '../../src/model/project.js'

/** The demo's code with one more hook, whose text has a mark where the cursor stands. */
const demo = parseProject(readFolder(join(import.meta.dirname, '../../../../demo')))
const HOOK = 'plugins/vault/hooks/lot-fresh.ts'

function at(text: string) {
  const offset = text.indexOf('¦')
  const files = new Map([...demo.files, [HOOK, text.replace('¦', '')]])
  const service = serviceOf({ ...demo, files })
  return { service, offset, files }
}
const hook = (body: string, head = '') =>
  `import { defineHook } from 'patient-hook'\n${head}export default defineHook({\n  table: 'lot',\n  moment: 'before-save',\n  load: ({ rows, store }) => store.byId('species', rows.map(row => row.now.species), ['thousand_seed_mass_g']),\n  each(row, found) {\n    ${body}\n  },\n})\n`

describe('go to definition', () => {
  test.each([
    ['row.now.net_ma¦ss_g = 1', { kind: 'model', table: 'lot', field: 'net_mass_g' }],
    ['void row.was?.ba¦y', { kind: 'model', table: 'lot', field: 'bay' }],
    ['void found.get(1)?.thousand_seed¦_mass_g', { kind: 'model', table: 'species', field: 'thousand_seed_mass_g' }],
  ])('%s', (body, target) => {
    const { service, offset } = at(hook(body))
    expect(definitionAt(service, HOOK, offset)).toEqual(target)
  })

  test('a function of lib', () => {
    const { service, offset } = at(
      hook('row.now.seed_estimate = seedsIn¦Mass(1, 2)', `import { seedsInMass } from '../lib/thousand-seed'\n`),
    )
    expect(definitionAt(service, HOOK, offset)).toMatchObject({ kind: 'code', file: 'plugins/vault/lib/thousand-seed.ts' })
  })
})

describe('rename', () => {
  test('a local name', () => {
    const { service, offset, files } = at(hook('const ma¦ss = 1; row.now.net_mass_g = mass * 2'))
    const renaming = renameAt(service, HOOK, offset, 'grams')
    if ('refused' in renaming) throw new Error(renaming.refused)
    expect(applyMend(files.get(HOOK)!, renaming.edits[HOOK]!)).toContain('const grams = 1; row.now.net_mass_g = grams * 2')
  })

  test('an export of lib, in every file of the plugin', () => {
    const { service, offset, files } = at(
      hook('row.now.seed_estimate = seedsIn¦Mass(1, 2)', `import { seedsInMass } from '../lib/thousand-seed'\n`),
    )
    const renaming = renameAt(service, HOOK, offset, 'seedsOf')
    if ('refused' in renaming) throw new Error(renaming.refused)
    expect(Object.keys(renaming.edits)).toEqual(
      expect.arrayContaining([HOOK, 'plugins/vault/lib/thousand-seed.ts', 'plugins/vault/hooks/lot-mass.ts']),
    )
    for (const [file, edits] of Object.entries(renaming.edits)) files.set(file, applyMend(files.get(file)!, edits))
    const after = serviceOf({ ...demo, files })
    for (const file of Object.keys(renaming.edits)) expect(diagnose(after, file)).toEqual([])
  })

  test.each([
    ['row.now.net_ma¦ss_g = 1', 'x', 'rename it in the Model view'],
    ['const a¦ = 1; void a', 'two words', 'cannot be a name'],
    ['void Math.ro¦und(1)', 'x', 'no name of this project'],
    ['void 1¦2', 'x', 'no name of this project'],
  ])('is refused: %s → %s', (body, name, reason) => {
    const { service, offset } = at(hook(body))
    expect(renameAt(service, HOOK, offset, name)).toMatchObject({ refused: expect.stringContaining(reason) as unknown })
  })
})

test('what a call takes', () => {
  const { service, offset } = at(hook(`row.refuse('bay', ¦)`))
  const signature = signatureAt(service, HOOK, offset)!
  expect(signature.label).toContain('message: string')
  expect(signature.label.slice(signature.active!.start, signature.active!.end)).toBe('message: string')
  expect(signatureAt(service, HOOK, 0)).toBeNull()
})
