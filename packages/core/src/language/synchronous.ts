import ts from '#typescript'
import { nodesOf } from '../syntax-tree.js'

/** Hooks, their modules and their tests are synchronous: what is not is found by its syntax. */

export interface AsyncPart {
  node: ts.Node
  /** As people call it: `async`, `await`, `for await`, `Promise`. */
  what: string
}

export function asyncParts(source: ts.SourceFile): AsyncPart[] {
  const parts: AsyncPart[] = []
  for (const node of nodesOf(source).nodes)
    if (node.kind === ts.SyntaxKind.AsyncKeyword) parts.push({ node, what: 'async' })
    else if (ts.isAwaitExpression(node)) parts.push({ node, what: 'await' })
    else if (ts.isForOfStatement(node) && node.awaitModifier) parts.push({ node: node.awaitModifier, what: 'for await' })
    else if (ts.isIdentifier(node) && node.text === 'Promise' && isValue(node)) parts.push({ node, what: 'Promise' })
  // Modifiers are no children of arrow functions in every version of the tree: they are found by their kind above.
  return parts
}

/** Not a property of that name, nor a type. */
function isValue(node: ts.Identifier): boolean {
  const { parent } = node
  if (ts.isPropertyAccessExpression(parent)) return parent.expression === node
  if (ts.isPropertyAssignment(parent) || ts.isPropertySignature(parent) || ts.isMethodDeclaration(parent))
    return parent.name !== node
  if (ts.isBindingElement(parent)) return parent.propertyName !== node
  return !ts.isTypeReferenceNode(parent) && !ts.isExpressionWithTypeArguments(parent)
}

export const asyncMessage = (what: string): string =>
  `${what} cannot be used here: hooks, their modules and tests are synchronous`
