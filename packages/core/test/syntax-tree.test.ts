import { expect, test } from 'vitest'
import { treeOf } from '../src/syntax-tree.js'

test('those who ask for the tree of one text share it; another text of the file has another', () => {
  const tree = treeOf('plugins/p/lib/a.ts', 'export const a = 1')
  expect(treeOf('plugins/p/lib/a.ts', 'export const a = 1')).toBe(tree)
  expect(treeOf('plugins/p/lib/b.ts', 'export const a = 1')).not.toBe(tree)
  const later = treeOf('plugins/p/lib/a.ts', 'export const a = 2')
  expect(later).not.toBe(tree)
  expect(later.text).toBe('export const a = 2')
  expect(treeOf('plugins/p/lib/a.ts', 'export const a = 2')).toBe(later)
})
