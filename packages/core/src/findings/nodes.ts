import ts from '#typescript'

/** What every look at a syntax tree needs. */

/** Without syntax that leaves the value unchanged: parentheses, `as`, `!`, `satisfies`. */
export function bare(node: ts.Node): ts.Node {
  return ts.isParenthesizedExpression(node) ||
    ts.isAsExpression(node) ||
    ts.isNonNullExpression(node) ||
    ts.isSatisfiesExpression(node)
    ? bare(node.expression)
    : node
}

export const isFunction = (node: ts.Node): node is ts.ArrowFunction | ts.FunctionExpression | ts.MethodDeclaration =>
  ts.isArrowFunction(node) || ts.isFunctionExpression(node) || ts.isMethodDeclaration(node)
