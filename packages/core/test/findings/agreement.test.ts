import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { hookUses } from '../../src/findings/uses.js'
import { readFolder } from '../../src/model/folder.js'
import { compileModule } from '../../src/sandbox/compile.js'
import { CORPUS } from './corpus/index.js'
import { treeOf } from '../../src/syntax-tree.js'

/**
 * Two readings of a hook's code say which fields of its record it writes: the proof by which the save path compares less
 * (sandbox/written-fields), and the list that the interface and the findings show (findings/uses). Where the proof says anything, both
 * say the same.
 */

const wrapped = (literal: string) =>
  literal.startsWith('import') ? literal : `import { defineHook } from 'patient-hook'\nexport default defineHook(${literal})\n`
const ofCorpus = CORPUS.flatMap(({ what, hooks }) =>
  hooks.split('\n---\n').map((literal, index) => [`${what} (${index + 1})`, wrapped(literal)] as const),
)
const ofDemo = [...readFolder(join(import.meta.dirname, '../../../../demo'))].filter(([path]) => /\/hooks\/.*\.ts$/.test(path))
// `this` stands before the row, and is none.
const WITH_THIS = [`each(this: void, row) { row.now.qty = 1 }`, `each: function (this: void, { now }) { now.qty ??= 2 }`].map(
  (each) => [each, wrapped(`{ table: 'item', moment: 'before-save', ${each} }`)] as const,
)
const all = [...ofCorpus, ...ofDemo, ...WITH_THIS]

const proven = (text: string): string[] | null => {
  try {
    const { writes } = compileModule('plugins/p/hooks/h.ts', text, 1)
    return writes && [...writes].sort()
  } catch {
    return null
  }
}

describe('what a hook writes to its record', () => {
  test.each(all)('%s', (_, text) => {
    const proof = proven(text)
    if (proof === null) return
    const listed = hookUses(treeOf('h.ts', text)).uses.filter((use) => use.kind === 'write' && use.of !== 'other')
    expect([...new Set(listed.map((use) => use.field))].sort()).toEqual(proof)
  })

  test.each(WITH_THIS)('is proved: %s', (_, text) => expect(proven(text)).toEqual(['qty']))

  test('most hooks can be proved', () => {
    const count = all.filter(([, text]) => proven(text) !== null).length
    expect(count).toBeGreaterThan(all.length / 2)
  })
})
