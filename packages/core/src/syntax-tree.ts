import ts from '#typescript'

/**
 * Trees of modules' texts, with parents. Several ask for the tree of the same text one after the other: each file's last one is given again as long as
 * the memory that it takes is not wanted for anything else. Nobody changes it.
 */

const trees = new Map<string, { text: string; tree: WeakRef<ts.SourceFile> }>()

/** @throws RangeError where the code lies deeper than the compiler's recursion goes */
export function treeOf(file: string, text: string): ts.SourceFile {
  const known = trees.get(file)
  const before = known?.text === text ? known.tree.deref() : undefined
  if (before) return before
  const tree = ts.createSourceFile(file, text, ts.ScriptTarget.ES2022, true)
  trees.set(file, { text, tree: new WeakRef(tree) })
  return tree
}
