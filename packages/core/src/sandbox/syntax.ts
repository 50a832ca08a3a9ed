import ts from '#typescript'

/** What several look for in syntax trees. */

/** `=`, `+=` and their like. */
export const isAssignment = ({ operatorToken: { kind } }: ts.BinaryExpression): boolean =>
  kind >= ts.SyntaxKind.FirstAssignment && kind <= ts.SyntaxKind.LastAssignment

/** With `declare`: only for the checker. */
export const isDeclared = (node: ts.Statement): boolean =>
  ts.canHaveModifiers(node) && (ts.getModifiers(node)?.some(({ kind }) => kind === ts.SyntaxKind.DeclareKeyword) ?? false)

/**
 * May something be written to this place? True for each target that the ECMAScript grammar has: of `=` and its compound forms, of `++`, `--`
 * and `delete`, of the head of `for … of` and `for … in`, and within a pattern of any of these.
 */
export function isWritten(node: ts.Node): boolean {
  const { parent } = node
  if (!parent) return false
  switch (parent.kind) {
    case ts.SyntaxKind.ParenthesizedExpression:
    case ts.SyntaxKind.AsExpression:
    case ts.SyntaxKind.SatisfiesExpression:
    case ts.SyntaxKind.TypeAssertionExpression:
    case ts.SyntaxKind.NonNullExpression:
    case ts.SyntaxKind.ArrayLiteralExpression:
    case ts.SyntaxKind.ObjectLiteralExpression:
    case ts.SyntaxKind.SpreadElement:
    case ts.SyntaxKind.SpreadAssignment:
    case ts.SyntaxKind.ShorthandPropertyAssignment:
      return isWritten(parent)
    case ts.SyntaxKind.PropertyAssignment:
      return (parent as ts.PropertyAssignment).initializer === node && isWritten(parent)
    case ts.SyntaxKind.BinaryExpression:
      return (parent as ts.BinaryExpression).left === node && isAssignment(parent as ts.BinaryExpression)
    case ts.SyntaxKind.PrefixUnaryExpression:
    case ts.SyntaxKind.PostfixUnaryExpression: {
      const { operator } = parent as ts.PrefixUnaryExpression
      return operator === ts.SyntaxKind.PlusPlusToken || operator === ts.SyntaxKind.MinusMinusToken
    }
    case ts.SyntaxKind.DeleteExpression:
      return true
    case ts.SyntaxKind.ForOfStatement:
    case ts.SyntaxKind.ForInStatement:
      return (parent as ts.ForOfStatement).initializer === node
    default:
      return false
  }
}
