import ts from '#typescript'

/** What several look for in syntax trees. */

/** `=`, `+=` and their like. */
export const isAssignment = ({ operatorToken: { kind } }: ts.BinaryExpression): boolean =>
  kind >= ts.SyntaxKind.FirstAssignment && kind <= ts.SyntaxKind.LastAssignment

/** With `declare`: only for the checker. */
export const isDeclared = (node: ts.Statement): boolean =>
  ts.canHaveModifiers(node) && (ts.getModifiers(node)?.some(({ kind }) => kind === ts.SyntaxKind.DeclareKeyword) ?? false)
