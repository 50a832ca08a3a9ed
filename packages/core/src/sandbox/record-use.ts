import ts from '#typescript'
import { parametersOf } from '../syntax-tree.js'
import { once } from '../once.js'
import { isWritten } from './syntax.js'

/**
 * What a hook's function, or a loop in it, does with a record, where its syntax tree proves it. The proof is conservative: as soon as the record is
 * handed on as a value, or anything is done with it that is not understood here, it is unknown.
 */

/** What a row has beside its record; `was` and `changed` look at fields of it. */
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

export class Unknown extends Error {}
const unknown = (): never => {
  throw new Unknown()
}

/** What is written in it may run later than where it stands: a function, or a class with its fields. */
export const runsLater = (node: ts.Node): boolean => ts.isFunctionLike(node) || ts.isClassLike(node)

/** The function or class around the node. */
export function ownerOf(node: ts.Node): ts.Node {
  let owner = node.parent
  while (!runsLater(owner)) owner = owner.parent
  return owner
}

export type RowFunction = ts.ArrowFunction | ts.FunctionExpression | ts.MethodDeclaration

/** What the function does with the row that it is given first. @throws Unknown */
export function useOfParameter(fn: RowFunction): RecordUse {
  const [first] = parametersOf(fn)
  if (first && (first.dotDotDotToken || first.initializer)) unknown()
  return new RecordUse(fn, first?.name ?? null)
}

export class RecordUse {
  /** Fields that it can write. */
  readonly fields = new Set<string>()
  /** Fields that it can look at or write, of the record as it is or was; null where that cannot be known. */
  get touched(): ReadonlySet<string> | null {
    return this.#touched
  }
  #touched: Set<string> | null = new Set<string>()
  /** Names for the row itself, and for its record. */
  readonly #rows = new Set<string>()
  readonly #records = new Set<string>()
  /** The declarations of these names: any other of the same name would hide them. */
  readonly #declared = new Set<ts.Node>()

  /** @param scope where the row has its name @throws Unknown */
  constructor(
    private readonly scope: ts.Node,
    row: ts.BindingName | null,
  ) {
    if (!row) return
    this.#bindRow(row)
    // Aliases may be used in functions that stand before them: all are found first.
    for (let known = -1; known !== this.#records.size + this.#rows.size;) {
      known = this.#records.size + this.#rows.size
      this.#walk(scope, (node) => {
        if (!ts.isVariableDeclaration(node) || !node.initializer) return
        if (this.#isRow(node.initializer)) this.#bindRow(node.name)
        else if (this.#isRecord(node.initializer)) this.#bindRecord(node.name)
      })
    }
    this.#walk(scope, (node) => this.#look(node))
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
      const { text } = key as ts.Identifier
      if (text === 'now') this.#bindRecord(element.name)
      else if (!ROW_PARTS.has(text)) unknown()
      else if (text === 'was' && ts.isObjectBindingPattern(element.name)) this.#touchPattern(element.name)
      else if (text === 'was' || text === 'changed') this.#touch(null)
    }
  }

  /** @param field null: it may be any */
  #touch(field: string | null): void {
    if (field === null) this.#touched = null
    else this.#touched?.add(field)
  }

  #touchPattern({ elements }: ts.ObjectBindingPattern): void {
    for (const { dotDotDotToken, propertyName, name } of elements) {
      const key = propertyName ?? name
      this.#touch(!dotDotDotToken && (ts.isIdentifier(key) || ts.isStringLiteralLike(key)) ? key.text : null)
    }
  }

  #bindRecord(name: ts.BindingName): void {
    // Taking values out of the record is reading; only another name for the record itself matters.
    if (ts.isObjectBindingPattern(name)) this.#touchPattern(name)
    else if (!ts.isIdentifier(name)) this.#touch(null)
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
      if (parent.name.text === 'was') this.#useBefore(parent)
      if (parent.name.text === 'changed') this.#useChanged(parent)
      if (ROW_PARTS.has(parent.name.text)) return
    }
    if (ts.isVariableDeclaration(parent) && parent.initializer === node) return
    unknown()
  }

  /** The record as it was: that it cannot be written to is seen to elsewhere. */
  #useBefore(was: ts.Node): void {
    const node = this.#outside(was)
    const { parent } = node
    if (ts.isPropertyAccessExpression(parent) && parent.expression === node) return this.#touch(parent.name.text)
    if (ts.isElementAccessExpression(parent) && parent.expression === node) return this.#touch(keyOf(parent))
    if (ts.isVariableDeclaration(parent) && ts.isObjectBindingPattern(parent.name)) return this.#touchPattern(parent.name)
    if (ts.isBinaryExpression(parent) && comparing().has(parent.operatorToken.kind)) return
    if (!ts.isIfStatement(parent)) this.#touch(null)
  }

  #useChanged(access: ts.Node): void {
    const { parent: call } = access
    if (!ts.isCallExpression(call) || call.expression !== access) return this.#touch(null)
    for (const name of call.arguments) this.#touch(ts.isStringLiteralLike(name) ? name.text : null)
  }

  /** The predicate of became is shown the record: it must be a function that only reads. */
  #lookAtBecame(access: ts.PropertyAccessExpression): void {
    const call = access.parent
    const [predicate] = ts.isCallExpression(call) && call.expression === access ? call.arguments : []
    if (!predicate || !ts.isArrowFunction(predicate)) return unknown()
    const touched = touchedByPredicate(predicate)
    if (touched === null) return unknown()
    for (const name of touched) this.#touch(name)
  }

  #useRecord(found: ts.Node): void {
    const node = this.#outside(found)
    const { parent } = node
    if (ts.isPropertyAccessExpression(parent) && parent.expression === node) return this.#useField(parent, parent.name.text)
    if (ts.isElementAccessExpression(parent) && parent.expression === node) return this.#useField(parent, keyOf(parent))
    if (ts.isVariableDeclaration(parent) && parent.initializer === node) return
    if (ts.isSpreadAssignment(parent)) return this.#touch(null)
    if (ts.isBinaryExpression(parent) && isIn(parent, node)) return this.#touch(null)
    if (ts.isBinaryExpression(parent) && comparing().has(parent.operatorToken.kind)) return
    if (ts.isIfStatement(parent)) return
    unknown()
  }

  /** @param field null for a computed name */
  #useField(access: ts.Node, field: string | null): void {
    this.#touch(field)
    const node = this.#outside(access)
    const { parent } = node
    const write = () => {
      if (field === null || field === 'id') return unknown()
      // A function within could be kept and called when another hook is at work.
      if (ownerOf(access) !== this.scope) unknown()
      this.fields.add(field)
    }
    if (!isWritten(node)) return
    // A target within a pattern, or in the head of a loop, is given its value in ways that are not followed here.
    const isPlain = ts.isBinaryExpression(parent) || ts.isPrefixUnaryExpression(parent) || ts.isPostfixUnaryExpression(parent)
    if (isPlain && !isWritten(parent)) write()
    else unknown()
  }
}

/** The name in brackets; null where it is computed. */
const keyOf = ({ argumentExpression: key }: ts.ElementAccessExpression): string | null =>
  ts.isStringLiteralLike(key) ? key.text : null

const isIn = (node: ts.BinaryExpression, right: ts.Node): boolean =>
  node.operatorToken.kind === ts.SyntaxKind.InKeyword && node.right === right

/** Fields that a function which is given the record itself looks at; null where it may do more than that with it. */
function touchedByPredicate(fn: ts.ArrowFunction): ReadonlySet<string | null> | null {
  const [first] = parametersOf(fn)
  const touched = new Set<string | null>()
  if (!first) return touched
  if (!ts.isIdentifier(first.name)) return first.dotDotDotToken ? null : touched.add(null)
  // Any assignment at all makes it unknown: predicates do not need one.
  let plain = true
  const { text } = first.name
  const walk = (node: ts.Node): void => {
    if (isWritten(node)) plain = false
    if (ts.isIdentifier(node) && node.text === text && node !== first.name) {
      const { parent } = node
      const isName = ts.isPropertyAccessExpression(parent) && parent.name === node
      if (ts.isPropertyAccessExpression(parent) && parent.expression === node) touched.add(parent.name.text)
      else if (!isName) plain = false
    }
    ts.forEachChild(node, walk)
  }
  walk(fn.body)
  return plain ? touched : null
}
