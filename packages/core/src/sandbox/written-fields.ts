import ts from '#typescript'
import { once } from '../once.js'

/**
 * Which fields of its record a hook's function can write, where its syntax tree proves it: then only those need to be
 * compared after it ran. The proof is conservative: as soon as the record is handed on as a value, or anything is done
 * with it that is not understood here, the answer is null and every field is compared.
 */

const ROW_PARTS = new Set(['id', 'event', 'was', 'changed', 'changes', 'refuse', 'copiedFrom'])
const comparing = once(
  () =>
    new Set([
      ts.SyntaxKind.EqualsEqualsEqualsToken,
      ts.SyntaxKind.ExclamationEqualsEqualsToken,
      ts.SyntaxKind.EqualsEqualsToken,
      ts.SyntaxKind.ExclamationEqualsToken,
    ]),
)

class Unknown extends Error {}
const unknown = (): never => {
  throw new Unknown()
}

/** @param part the function given as a part of a hook's definition @returns null when it cannot be known */
export function writtenFields(part: ts.Node | undefined): ReadonlySet<string> | null {
  const fn = part && ts.isPropertyAssignment(part) ? part.initializer : part
  if (!fn || !(ts.isArrowFunction(fn) || ts.isFunctionExpression(fn) || ts.isMethodDeclaration(fn))) return null
  try {
    return new Reader(fn).fields
  } catch (error) {
    if (error instanceof Unknown) return null
    throw error
  }
}

/** Methods of a list that hand its items to a function and do nothing else with them. */
const LIST = new Set(['map', 'flatMap', 'forEach', 'filter', 'some', 'every'])

/**
 * Does `load` only read the rows it is given? Proved where each use of them is `rows.map(row => …)` or the like, with a
 * function that writes nothing and hands no row on.
 */
export function onlyReadsRows(part: ts.Node | undefined): boolean {
  const fn = part && ts.isPropertyAssignment(part) ? part.initializer : part
  if (!fn || !(ts.isArrowFunction(fn) || ts.isFunctionExpression(fn) || ts.isMethodDeclaration(fn))) return false
  const [first] = fn.parameters
  if (first && (first.initializer || first.dotDotDotToken || !ts.isObjectBindingPattern(first.name))) return false
  let name: ts.Identifier | null = null
  for (const element of first && ts.isObjectBindingPattern(first.name) ? first.name.elements : []) {
    if (element.dotDotDotToken) return false
    if ((element.propertyName ?? element.name).getText() !== 'rows') continue
    if (!ts.isIdentifier(element.name) || element.initializer) return false
    name = element.name
  }
  let reads = true
  const look = (node: ts.Node): void => {
    if (ts.isIdentifier(node) && (node.text === 'arguments' || node.text === 'eval')) reads = false
    if (name && ts.isIdentifier(node) && node !== name && node.text === name.text && !isPropertyName(node)) reads &&= isRead(node)
    ts.forEachChild(node, look)
  }
  look(fn)
  return reads
}

const isPropertyName = (node: ts.Identifier): boolean =>
  (ts.isPropertyAccessExpression(node.parent) && node.parent.name === node) ||
  (ts.isPropertyAssignment(node.parent) && node.parent.name === node)

function isRead(list: ts.Node): boolean {
  const access = list.parent
  if (!ts.isPropertyAccessExpression(access) || access.expression !== list) return false
  if (access.name.text === 'length') return true
  const call = access.parent
  if (!LIST.has(access.name.text) || !ts.isCallExpression(call) || call.expression !== access) return false
  const [fn] = call.arguments
  if (call.arguments.length !== 1 || !fn || !ts.isArrowFunction(fn) || fn.parameters.length > 2) return false
  if (writtenFields(fn)?.size !== 0 || holdsFunction(fn.body)) return false
  // What filter gives back are rows again.
  return access.name.text !== 'filter' || isRead(call)
}

/** A function made within could be kept, and would see later what it should have seen then. */
const holdsFunction = (node: ts.Node): boolean =>
  ts.isFunctionLike(node) || (ts.forEachChild(node, (child) => holdsFunction(child) || undefined) ?? false)

class Reader {
  readonly fields = new Set<string>()
  /** Names for the row itself, and for its record. */
  readonly #rows = new Set<string>()
  readonly #records = new Set<string>()
  /** The declarations of these names: any other of the same name would hide them. */
  readonly #declared = new Set<ts.Node>()

  constructor(private readonly fn: ts.ArrowFunction | ts.FunctionExpression | ts.MethodDeclaration) {
    const [first] = fn.parameters
    if (!first) return
    if (first.dotDotDotToken || first.initializer) unknown()
    this.#bindRow(first.name)
    // Aliases may be used in functions that stand before them: all are found first.
    for (let known = -1; known !== this.#records.size + this.#rows.size;) {
      known = this.#records.size + this.#rows.size
      this.#walk(fn, (node) => {
        if (!ts.isVariableDeclaration(node) || !node.initializer) return
        if (this.#isRow(node.initializer)) this.#bindRow(node.name)
        else if (this.#isRecord(node.initializer)) this.#bindRecord(node.name)
      })
    }
    this.#walk(fn, (node) => this.#look(node))
  }

  #walk(node: ts.Node, each: (node: ts.Node) => void): void {
    each(node)
    ts.forEachChild(node, (child) => this.#walk(child, each))
  }

  #bindRow(name: ts.BindingName): void {
    if (ts.isIdentifier(name)) {
      this.#rows.add(name.text)
      this.#declared.add(name)
      return
    }
    if (!ts.isObjectBindingPattern(name)) return unknown()
    for (const element of name.elements) {
      const key = element.propertyName ?? element.name
      if (element.dotDotDotToken || element.initializer || !ts.isIdentifier(key)) unknown()
      if ((key as ts.Identifier).text === 'now') this.#bindRecord(element.name)
      else if (!ROW_PARTS.has((key as ts.Identifier).text)) unknown()
    }
  }

  #bindRecord(name: ts.BindingName): void {
    // Taking values out of the record is reading; only another name for the record itself matters.
    if (!ts.isIdentifier(name)) return
    this.#records.add(name.text)
    this.#declared.add(name)
  }

  #bare(node: ts.Expression): ts.Expression {
    return ts.isNonNullExpression(node) || ts.isParenthesizedExpression(node) || ts.isAsExpression(node)
      ? this.#bare(node.expression)
      : node
  }

  #isRow(node: ts.Expression): boolean {
    const bare = this.#bare(node)
    return ts.isIdentifier(bare) && this.#rows.has(bare.text)
  }

  #isRecord(node: ts.Expression): boolean {
    const bare = this.#bare(node)
    if (ts.isIdentifier(bare)) return this.#records.has(bare.text)
    return ts.isPropertyAccessExpression(bare) && bare.name.text === 'now' && this.#isRow(bare.expression)
  }

  #look(node: ts.Node): void {
    if (ts.isIdentifier(node)) return this.#lookAtName(node)
    if (ts.isPropertyAccessExpression(node) && this.#isRecord(node) && node.name.text === 'now') this.#useRecord(node)
  }

  #lookAtName(node: ts.Identifier): void {
    if (node.text === 'arguments' || node.text === 'eval') unknown()
    const isRow = this.#rows.has(node.text)
    const isRecord = this.#records.has(node.text)
    if ((!isRow && !isRecord) || this.#declared.has(node)) return
    const { parent } = node
    // A property of that name is another thing.
    if (ts.isPropertyAccessExpression(parent) && parent.name === node) return
    if (ts.isPropertyAssignment(parent) && parent.name === node) return
    if (ts.isBindingElement(parent) && parent.propertyName === node) return
    if (ts.isTypeReferenceNode(parent) || ts.isTypeNode(parent)) return
    if (isRow) this.#useRow(node)
    else this.#useRecord(node)
  }

  #outside(node: ts.Node): ts.Node {
    const { parent } = node
    return ts.isNonNullExpression(parent) || ts.isParenthesizedExpression(parent) || ts.isAsExpression(parent)
      ? this.#outside(parent)
      : node
  }

  #useRow(name: ts.Node): void {
    const node = this.#outside(name)
    const { parent } = node
    if (ts.isPropertyAccessExpression(parent) && parent.expression === node) {
      if (parent.name.text === 'now') return
      if (parent.name.text === 'became') return this.#lookAtBecame(parent)
      if (ROW_PARTS.has(parent.name.text)) return
    }
    if (ts.isVariableDeclaration(parent) && parent.initializer === node) return
    unknown()
  }

  /** The predicate of became is shown the record: it must be a function that only reads. */
  #lookAtBecame(access: ts.PropertyAccessExpression): void {
    const call = access.parent
    const [predicate] = ts.isCallExpression(call) && call.expression === access ? call.arguments : []
    if (!predicate || !ts.isArrowFunction(predicate)) return unknown()
    const written = writtenRecord(predicate)
    if (written === null || written.size > 0) unknown()
  }

  #useRecord(found: ts.Node): void {
    const node = this.#outside(found)
    const { parent } = node
    if (ts.isPropertyAccessExpression(parent) && parent.expression === node) return this.#useField(parent, parent.name.text)
    if (ts.isElementAccessExpression(parent) && parent.expression === node) {
      const key = parent.argumentExpression
      return this.#useField(parent, ts.isStringLiteralLike(key) ? key.text : null)
    }
    if (ts.isVariableDeclaration(parent) && parent.initializer === node) return
    if (ts.isSpreadAssignment(parent)) return
    if (ts.isBinaryExpression(parent) && (comparing().has(parent.operatorToken.kind) || isIn(parent, node))) return
    if (ts.isIfStatement(parent)) return
    unknown()
  }

  /** @param field null for a computed name */
  #useField(access: ts.Node, field: string | null): void {
    const node = this.#outside(access)
    const { parent } = node
    const write = () => {
      if (field === null || field === 'id') return unknown()
      // A function within could be kept and called when another hook is at work.
      let owner: ts.Node = access.parent
      while (!ts.isFunctionLike(owner)) owner = owner.parent
      if (owner !== this.fn) unknown()
      this.fields.add(field)
    }
    if (ts.isBinaryExpression(parent) && parent.left === node && isAssignment(parent.operatorToken.kind)) return write()
    if (ts.isPrefixUnaryExpression(parent) || ts.isPostfixUnaryExpression(parent)) {
      const { operator } = parent
      if (operator === ts.SyntaxKind.PlusPlusToken || operator === ts.SyntaxKind.MinusMinusToken) write()
      return
    }
    if (ts.isDeleteExpression(parent)) unknown()
    if ((ts.isForOfStatement(parent) || ts.isForInStatement(parent)) && parent.initializer === node) unknown()
    for (let at: ts.Node = node; at.parent && !ts.isStatement(at); at = at.parent)
      if (
        ts.isBinaryExpression(at.parent) &&
        at.parent.left === at &&
        at.parent.operatorToken.kind === ts.SyntaxKind.EqualsToken &&
        (ts.isArrayLiteralExpression(at) || ts.isObjectLiteralExpression(at))
      )
        unknown()
  }
}

const isAssignment = (kind: ts.SyntaxKind): boolean =>
  kind >= ts.SyntaxKind.FirstAssignment && kind <= ts.SyntaxKind.LastAssignment
const isIn = (node: ts.BinaryExpression, right: ts.Node): boolean =>
  node.operatorToken.kind === ts.SyntaxKind.InKeyword && node.right === right

/** The same question for a function whose parameter is the record itself. */
function writtenRecord(fn: ts.ArrowFunction): ReadonlySet<string> | null {
  const [first] = fn.parameters
  if (!first) return new Set()
  if (!ts.isIdentifier(first.name)) return first.dotDotDotToken ? null : new Set()
  // Any assignment at all makes it unknown: predicates do not need one.
  let plain = true
  const { text } = first.name
  const walk = (node: ts.Node): void => {
    if (ts.isBinaryExpression(node) && isAssignment(node.operatorToken.kind)) plain = false
    if (ts.isPrefixUnaryExpression(node) || ts.isPostfixUnaryExpression(node))
      if (node.operator === ts.SyntaxKind.PlusPlusToken || node.operator === ts.SyntaxKind.MinusMinusToken) plain = false
    if (ts.isDeleteExpression(node)) plain = false
    if (ts.isIdentifier(node) && node.text === text && node !== first.name) {
      const { parent } = node
      const isName = ts.isPropertyAccessExpression(parent) && parent.name === node
      if (!isName && !(ts.isPropertyAccessExpression(parent) && parent.expression === node)) plain = false
    }
    ts.forEachChild(node, walk)
  }
  walk(fn.body)
  return plain ? new Set() : null
}
