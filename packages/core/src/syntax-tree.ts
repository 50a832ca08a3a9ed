import ts from '#typescript'

/**
 * Trees of modules' texts, with parents. Several ask for the tree of the same text in sequence: each file's last one is given again as long as
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

/** All nodes of a tree, each before its children, as somebody reads them; and how deep they lie. */
export interface NodeList {
  nodes: readonly ts.Node[]
  deepest: { node: ts.Node; depth: number }
}

const lists = new WeakMap<ts.SourceFile, NodeList>()

/** Gone through once for all who look at every node. */
export function nodesOf(source: ts.SourceFile): NodeList {
  let list = lists.get(source)
  if (list) return list
  const nodes: ts.Node[] = []
  let deepest = { node: source as ts.Node, depth: 0 }
  // No recursion: code may lie deeper than that goes.
  const waiting: ts.Node[] = [source]
  const depths = [0]
  let children: ts.Node[] = []
  const note = (child: ts.Node): void => void children.push(child)
  for (let node = waiting.pop(); node; node = waiting.pop()) {
    const depth = depths.pop()!
    nodes.push(node)
    if (depth > deepest.depth) deepest = { node, depth }
    children = []
    ts.forEachChild(node, note)
    for (let at = children.length - 1; at >= 0; at--) {
      waiting.push(children[at]!)
      depths.push(depth + 1)
    }
  }
  lists.set(source, (list = { nodes, deepest }))
  return list
}

/** What a function takes: without `this`, which stands first and is only there for the checker. */
export function parametersOf({ parameters }: ts.SignatureDeclaration): readonly ts.ParameterDeclaration[] {
  const name = parameters[0]?.name
  return name && ts.isIdentifier(name) && name.text === 'this' ? parameters.slice(1) : parameters
}
