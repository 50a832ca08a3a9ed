import ts from '#typescript'
import { LINE_BITS } from '../watch.js'

/**
 * Rewrites a module so that it can be metered: a step is counted at each function entry and each turn of a loop, and
 * the line is noted before each statement that calls something, so that a call which never comes back can be named.
 */

/** By which names the code finds the meter, and the cells whose first holds the place. */
export interface MeterNames {
  meter: string
  place: string
}

/** @param lineAt the line that somebody wrote, from 1, of a line from 1 and a column from 0; null for what nobody wrote. Default: the same */
export function instrument(
  names: MeterNames,
  moduleNumber: number,
  lineAt: (line: number, column: number) => number | null = (line) => line,
): ts.TransformerFactory<ts.SourceFile> {
  return (context) => (source) => {
    const f = context.factory
    /** @param from the node the step stands for, so that an error of the budget has its line */
    const step = (from: ts.Node) => {
      const stop = f.createCallExpression(
        f.createPropertyAccessExpression(f.createIdentifier(names.meter), 'stop'),
        undefined,
        [],
      )
      return f.createLogicalAnd(
        f.createGreaterThan(
          f.createPrefixIncrement(f.createPropertyAccessExpression(f.createIdentifier(names.meter), 'n')),
          f.createPropertyAccessExpression(f.createIdentifier(names.meter), 'm'),
        ),
        ts.setSourceMapRange(stop, rangeOf(from)),
      )
    }
    const rangeOf = (node: ts.Node): ts.SourceMapRange => {
      const original = ts.getOriginalNode(node)
      return original.pos >= 0 ? { pos: original.getStart(source), end: original.end } : { pos: 0, end: 0 }
    }
    const writtenLine = (node: ts.Node): number | null => {
      const { line, character } = source.getLineAndCharacterOfPosition(node.getStart(source))
      return lineAt(line + 1, character)
    }
    const place = (line: number) =>
      f.createAssignment(
        f.createElementAccessExpression(f.createIdentifier(names.place), 0),
        f.createNumericLiteral(moduleNumber * 2 ** LINE_BITS + line),
      )
    /** The line of a statement that calls something; null where nothing needs to be noted. */
    const noted = (statement: ts.Statement): number | null => (callsSomething(statement) ? writtenLine(statement) : null)
    const stepStatement = (from: ts.Node) => f.createExpressionStatement(step(from))
    const counted = (statement: ts.Statement, from: ts.Node): ts.Block =>
      ts.isBlock(statement)
        ? f.updateBlock(statement, [stepStatement(from), ...statement.statements])
        : f.createBlock([stepStatement(from), statement], true)

    const list = (statements: ts.NodeArray<ts.Statement>): ts.Statement[] =>
      statements.flatMap((statement) => {
        const visited = ts.visitNode(statement, visit) as ts.Statement
        const line = noted(statement)
        return line === null ? [visited] : [f.createExpressionStatement(place(line)), visited]
      })
    const alone = (statement: ts.Statement): ts.Statement => {
      const visited = ts.visitNode(statement, visit) as ts.Statement
      const line = noted(statement)
      return line === null ? visited : f.createBlock([f.createExpressionStatement(place(line)), visited], true)
    }

    const visit = (node: ts.Node): ts.Node => {
      if (ts.isBlock(node)) return f.updateBlock(node, list(node.statements))
      if (ts.isCaseClause(node))
        return f.updateCaseClause(node, ts.visitNode(node.expression, visit) as ts.Expression, list(node.statements))
      if (ts.isDefaultClause(node)) return f.updateDefaultClause(node, list(node.statements))
      if (ts.isIfStatement(node))
        return f.updateIfStatement(
          node,
          ts.visitNode(node.expression, visit) as ts.Expression,
          alone(node.thenStatement),
          node.elseStatement && alone(node.elseStatement),
        )
      if (ts.isArrowFunction(node) && !ts.isBlock(node.body)) {
        const body = ts.visitNode(node.body, visit) as ts.Expression
        const line = containsCall(node.body) ? writtenLine(node.body) : null
        const parts = line === null ? step(node) : f.createComma(step(node), place(line))
        return f.updateArrowFunction(
          node,
          node.modifiers,
          node.typeParameters,
          ts.visitNodes(node.parameters, visit) as ts.NodeArray<ts.ParameterDeclaration>,
          node.type,
          node.equalsGreaterThanToken,
          f.createParenthesizedExpression(f.createComma(parts, body)),
        )
      }
      const visited = ts.visitEachChild(node, visit, context)
      if (ts.isForStatement(visited))
        return f.updateForStatement(
          visited,
          visited.initializer,
          visited.condition,
          visited.incrementor,
          counted(visited.statement, node),
        )
      if (ts.isForOfStatement(visited))
        return f.updateForOfStatement(
          visited,
          visited.awaitModifier,
          visited.initializer,
          visited.expression,
          counted(visited.statement, node),
        )
      if (ts.isForInStatement(visited))
        return f.updateForInStatement(visited, visited.initializer, visited.expression, counted(visited.statement, node))
      if (ts.isWhileStatement(visited))
        return f.updateWhileStatement(visited, visited.expression, counted(visited.statement, node))
      if (ts.isDoStatement(visited)) return f.updateDoStatement(visited, counted(visited.statement, node), visited.expression)
      if (ts.isFunctionLike(visited) && 'body' in visited && visited.body && ts.isBlock(visited.body as ts.Node))
        return withBody(f, visited, counted(visited.body as ts.Block, node))
      return visited
    }
    return f.updateSourceFile(source, list(source.statements))
  }
}

function withBody(f: ts.NodeFactory, node: ts.Node, body: ts.Block): ts.Node {
  if (ts.isFunctionDeclaration(node))
    return f.updateFunctionDeclaration(
      node,
      node.modifiers,
      node.asteriskToken,
      node.name,
      node.typeParameters,
      node.parameters,
      node.type,
      body,
    )
  if (ts.isFunctionExpression(node))
    return f.updateFunctionExpression(
      node,
      node.modifiers,
      node.asteriskToken,
      node.name,
      node.typeParameters,
      node.parameters,
      node.type,
      body,
    )
  if (ts.isArrowFunction(node))
    return f.updateArrowFunction(
      node,
      node.modifiers,
      node.typeParameters,
      node.parameters,
      node.type,
      node.equalsGreaterThanToken,
      body,
    )
  if (ts.isMethodDeclaration(node))
    return f.updateMethodDeclaration(
      node,
      node.modifiers,
      node.asteriskToken,
      node.name,
      node.questionToken,
      node.typeParameters,
      node.parameters,
      node.type,
      body,
    )
  if (ts.isConstructorDeclaration(node)) return f.updateConstructorDeclaration(node, node.modifiers, node.parameters, body)
  if (ts.isGetAccessorDeclaration(node))
    return f.updateGetAccessorDeclaration(node, node.modifiers, node.name, node.parameters, node.type, body)
  if (ts.isSetAccessorDeclaration(node))
    return f.updateSetAccessorDeclaration(node, node.modifiers, node.name, node.parameters, body)
  return node
}

function containsCall(node: ts.Node): boolean {
  if (ts.isCallExpression(node) || ts.isNewExpression(node) || ts.isTaggedTemplateExpression(node) || ts.isSpreadElement(node))
    return true
  if (ts.isFunctionLike(node) || ts.isClassLike(node)) return false
  return ts.forEachChild(node, (child) => containsCall(child) || undefined) ?? false
}

/** Does the statement itself, outside of nested blocks and functions, call or throw something? */
function callsSomething(statement: ts.Statement): boolean {
  // What is thrown may tell nothing of where.
  if (ts.isThrowStatement(statement)) return true
  if (
    ts.isExpressionStatement(statement) ||
    ts.isVariableStatement(statement) ||
    ts.isReturnStatement(statement) ||
    ts.isExportAssignment(statement)
  )
    return containsCall(statement)
  if (ts.isIfStatement(statement) || ts.isSwitchStatement(statement)) return containsCall(statement.expression)
  if (ts.isForOfStatement(statement) || ts.isForInStatement(statement)) return containsCall(statement.expression)
  if (ts.isWhileStatement(statement)) return containsCall(statement.expression)
  return false
}
