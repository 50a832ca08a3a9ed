import ts from '#typescript'
import { LINE_BITS } from '../watch.js'
import { RANK, type TextEdits } from './text-edits.js'

/**
 * Puts a meter into a module: a step is counted at each function entry and each turn of a loop, and the line is noted before each statement that
 * calls something, so that a call which never comes back can be named.
 */

/** By which names the code finds the meter, and the cells whose first holds the place. */
export interface MeterNames {
  meter: string
  place: string
}

/**
 * @param every the line is noted before each statement and result, whether or not it calls something: what calls nothing may fill the memory
 * @param lineAt the line that somebody wrote, from 1, of a line from 1 and a column from 0; null for what nobody wrote. Default: the same
 */
export function addMeter(
  source: ts.SourceFile,
  edits: TextEdits,
  { meter, place }: MeterNames,
  moduleNumber: number,
  every: boolean,
  lineAt: (line: number, column: number) => number | null = (line) => line,
): void {
  const step = `++${meter}.n>${meter}.m&&${meter}.stop()`
  const noting = (line: number) => `${place}[0]=${moduleNumber * 2 ** LINE_BITS + line}`
  const startOf = (node: ts.Node) => node.getStart(source)
  const writtenLine = (node: ts.Node): number | null => {
    const { line, character } = source.getLineAndCharacterOfPosition(startOf(node))
    return lineAt(line + 1, character)
  }
  /** The line of a statement that calls something; null where nothing needs to be noted. */
  const noted = (statement: ts.Statement): number | null =>
    callsSomething(statement) || (every && doesSomething(statement)) ? writtenLine(statement) : null
  const before = (at: number, text: string, from: ts.Node) => edits.before(at, text, RANK.meter, startOf(from))

  const list = (statements: ts.NodeArray<ts.Statement>): void => {
    for (const statement of statements) {
      const line = noted(statement)
      if (line !== null) before(startOf(statement), `${noting(line)};`, statement)
      visit(statement)
    }
  }
  const alone = (statement: ts.Statement): void => {
    const line = noted(statement)
    if (line !== null) before(startOf(statement), `{${noting(line)};`, statement)
    visit(statement)
    if (line !== null) edits.afterStatement(statement, '}', RANK.meter)
  }
  /** @param from what the step represents, so that an error of the budget has its line */
  const counted = (statement: ts.Statement | ts.Block, from: ts.Node): void => {
    if (ts.isBlock(statement)) before(startOf(statement) + 1, `${step};`, from)
    else {
      const line = noted(statement)
      before(startOf(statement), `{${step};${line === null ? '' : `${noting(line)};`}`, from)
    }
    visit(statement)
    if (!ts.isBlock(statement)) edits.afterStatement(statement, '}', RANK.meter)
  }

  const visit = (node: ts.Node): void => {
    if (ts.isTypeNode(node) && !ts.isExpressionWithTypeArguments(node)) return
    if (ts.isBlock(node)) return list(node.statements)
    if (ts.isCaseClause(node)) {
      visit(node.expression)
      return list(node.statements)
    }
    if (ts.isDefaultClause(node)) return list(node.statements)
    if (ts.isIfStatement(node)) {
      visit(node.expression)
      alone(node.thenStatement)
      if (node.elseStatement) alone(node.elseStatement)
      return
    }
    if (ts.isIterationStatement(node, false)) {
      ts.forEachChild(node, (child) => (child === node.statement ? counted(node.statement, node) : visit(child)))
      return
    }
    if (ts.isFunctionLike(node) && 'body' in node && node.body) {
      const body = node.body as ts.Block | ts.Expression
      ts.forEachChild(node, (child) => {
        if (child !== body) visit(child)
        else if (ts.isBlock(body)) counted(body, node)
        else {
          const line = every || containsCall(body) ? writtenLine(body) : null
          before(startOf(body), `(${step},${line === null ? '' : `${noting(line)},`}`, node)
          visit(body)
          edits.after(body, ')', RANK.meter)
        }
      })
      return
    }
    ts.forEachChild(node, visit)
  }
  list(source.statements)
}

/** Neither a part of another statement, nor only there for the checker, nor done before the others. */
const doesSomething = (statement: ts.Statement): boolean =>
  !ts.isBlock(statement) &&
  !ts.isEmptyStatement(statement) &&
  !ts.isFunctionDeclaration(statement) &&
  !ts.isClassDeclaration(statement) &&
  !ts.isInterfaceDeclaration(statement) &&
  !ts.isTypeAliasDeclaration(statement) &&
  !ts.isImportDeclaration(statement) &&
  !ts.isExportDeclaration(statement)

function containsCall(node: ts.Node): boolean {
  if (ts.isCallExpression(node) || ts.isNewExpression(node) || ts.isTaggedTemplateExpression(node) || ts.isSpreadElement(node))
    return true
  if (ts.isFunctionLike(node) || ts.isClassLike(node)) return false
  return ts.forEachChild(node, (child) => containsCall(child) || undefined) ?? false
}

/** Does the statement itself, outside of nested blocks and functions, call or throw something? */
function callsSomething(statement: ts.Statement): boolean {
  // A thrown value may not tell where.
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
