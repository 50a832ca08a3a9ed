import ts from '#typescript'
import { isAssignment } from './syntax.js'
import { RANK, type TextEdits } from './text-edits.js'

/**
 * Puts probes into a module's text, so that a rehearsal can tell what each line did: the line before each statement, the
 * values on their way, the turns of loops. Text is only inserted, never a line, so that lines stay what they are.
 */

/** Told by probed code as it runs. A place is module number × 2^18 + line, as in the meter. */
export interface Probe {
  /** A statement begins. */
  at(place: number): void
  /** A value came about; it is given back unchanged. */
  value<T>(place: number, name: string, value: T): T
  /** A loop takes a turn. */
  turn(place: number): void
}

const LOOKUPS = new Set(['byId', 'children', 'find', 'rollup'])

/**
 * @param source without syntax errors
 * @param probe the name by which the code finds the Probe
 * @param base what is added to a line to make a place
 */
export function addProbes(source: ts.SourceFile, edits: TextEdits, probe: string, base: number): void {
  const before = (at: number, what: string) => edits.before(at, what, RANK.probe)
  const placeOf = (node: ts.Node) => base + source.getLineAndCharacterOfPosition(node.getStart(source)).line + 1
  const nameOf = (node: ts.Node) => JSON.stringify(shorten(node.getText(source)))

  /** With (), so that what a call gives is distinguished from what a name holds. */
  const callName = (call: ts.CallExpression) => JSON.stringify(`${shorten(call.expression.getText(source))}()`)

  /** `expr` becomes `probe.value(place, name, expr)`; what is inside is looked at between the two parts. */
  const wrap = (node: ts.Expression, name: string, place = placeOf(node), inside: ts.Node = node) => {
    // A list of expressions would become a list of arguments.
    const [open, close] =
      ts.isBinaryExpression(node) && node.operatorToken.kind === ts.SyntaxKind.CommaToken ? ['(', ')'] : ['', '']
    before(node.getStart(source), `${probe}.value(${place},${name},${open}`)
    visitChildren(inside)
    edits.after(node, `${close})`, RANK.probe)
  }

  const visitChildren = (node: ts.Node) => ts.forEachChild(node, visit)

  const begin = (statement: ts.Statement) => {
    if (ts.isFunctionDeclaration(statement) || ts.isClassDeclaration(statement) || ts.isBlock(statement)) return
    if (ts.isEmptyStatement(statement) || ts.isInterfaceDeclaration(statement) || ts.isTypeAliasDeclaration(statement)) return
    before(statement.getStart(source), `${probe}.at(${placeOf(statement)});`)
  }
  const statements = (list: ts.NodeArray<ts.Statement>) => {
    for (const statement of list) {
      begin(statement)
      visit(statement)
    }
  }
  /** The body of an if or a loop, with something done first. */
  const body = (statement: ts.Statement, first = '') => {
    if (ts.isBlock(statement)) {
      if (first) before(statement.getStart(source) + 1, first)
      statements(statement.statements)
      return
    }
    before(statement.getStart(source), `{${first}`)
    begin(statement)
    visit(statement)
    edits.afterStatement(statement, '}', RANK.probe)
  }
  const turn = (node: ts.Node, also = '') => `${probe}.turn(${placeOf(node)});${also}`

  const visit = (node: ts.Node): void => {
    if (ts.isBlock(node) && !ts.isFunctionLike(node.parent)) return statements(node.statements)
    if (ts.isTypeNode(node) || ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)) return
    if (ts.isFunctionLike(node)) return visitFunction(node)
    if (ts.isIfStatement(node)) {
      wrap(node.expression, '"if"')
      body(node.thenStatement)
      if (node.elseStatement) body(node.elseStatement)
      return
    }
    if (ts.isForOfStatement(node) || ts.isForInStatement(node)) {
      visit(node.expression)
      body(node.statement, turn(node, bound(node.initializer, placeOf(node))))
      return
    }
    if (ts.isForStatement(node)) {
      if (node.condition) visitChildren(node.condition)
      if (node.incrementor) visitChildren(node.incrementor)
      body(node.statement, turn(node))
      return
    }
    if (ts.isWhileStatement(node) || ts.isDoStatement(node)) {
      visitChildren(node.expression)
      body(node.statement, turn(node))
      return
    }
    if (ts.isCaseOrDefaultClause(node)) {
      if (ts.isCaseClause(node)) visitChildren(node.expression)
      return statements(node.statements)
    }
    if (ts.isReturnStatement(node) && node.expression) return wrap(node.expression, '"return"')
    if (ts.isVariableStatement(node)) {
      for (const declaration of node.declarationList.declarations) {
        if (!declaration.initializer || isFunction(declaration.initializer)) visitChildren(declaration)
        else if (ts.isIdentifier(declaration.name))
          wrap(declaration.initializer, JSON.stringify(declaration.name.text), placeOf(declaration))
        else {
          visit(declaration.initializer)
          edits.afterStatement(node, `;${bound(declaration.name, placeOf(declaration))}`, RANK.probe)
        }
      }
      return
    }
    if (ts.isExpressionStatement(node)) {
      const { expression } = node
      if (ts.isBinaryExpression(expression) && isAssignment(expression)) return wrap(expression, nameOf(expression.left))
      if (ts.isCallExpression(expression) || ts.isPrefixUnaryExpression(expression) || ts.isPostfixUnaryExpression(expression))
        return wrap(expression, ts.isCallExpression(expression) ? callName(expression) : nameOf(expression))
    }
    if (
      ts.isCallExpression(node) &&
      ts.isPropertyAccessExpression(node.expression) &&
      LOOKUPS.has(node.expression.name.text) &&
      /(^|\.)store$/.test(node.expression.expression.getText(source)) &&
      node.arguments[0] &&
      ts.isStringLiteralLike(node.arguments[0])
    )
      return wrap(node, JSON.stringify(`${node.expression.name.text} ${node.arguments[0].text}`))
    visitChildren(node)
  }

  const visitFunction = (node: ts.SignatureDeclaration) => {
    const inner = (node as { body?: ts.Node }).body
    for (const parameter of node.parameters) if (parameter.initializer) visit(parameter.initializer)
    if (!inner) return
    if (ts.isBlock(inner)) return statements(inner.statements)
    const { parent } = node
    // A function given to a call, such as map(row => row.id): its values would only repeat what the call gives.
    if (ts.isCallExpression(parent)) return visitChildren(inner)
    const place = placeOf(inner)
    const owner = ts.isPropertyAssignment(parent) || ts.isVariableDeclaration(parent) ? parent.name.getText(source) : 'value'
    before(inner.getStart(source), `(${probe}.at(${place}),`)
    wrap(inner as ts.Expression, JSON.stringify(owner), place)
    edits.after(inner, ')', RANK.probe)
  }

  /** Probes for the names that a pattern binds. */
  const bound = (pattern: ts.Node, place: number): string => {
    const names: string[] = []
    const look = (node: ts.Node): void => {
      if (ts.isVariableDeclaration(node) || ts.isBindingElement(node)) {
        if (ts.isIdentifier(node.name)) names.push(node.name.text)
        else look(node.name)
      } else ts.forEachChild(node, look)
    }
    look(pattern)
    return names.map((name) => `${probe}.value(${place},${JSON.stringify(name)},${name});`).join('')
  }

  for (const statement of source.statements) visit(statement)
}

const isFunction = (node: ts.Node) => ts.isArrowFunction(node) || ts.isFunctionExpression(node)
const shorten = (text: string) => {
  const one = text.replace(/\s+/g, ' ')
  return one.length > 40 ? one.slice(0, 39) + '…' : one
}
