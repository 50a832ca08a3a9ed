import ts from '#typescript'
import { once } from '../once.js'
import { isAssignment, isDeclared } from './syntax.js'
import { RANK, type TextEdits } from './text-edits.js'

/**
 * Makes JavaScript of a module by blanking its types: what stays is what was written, at the place where it was written. Where that would not do,
 * since TypeScript emits code for something, or a gap would be read otherwise, it says so, and TypeScript's emitter has to do it.
 */

class NotByBlanking extends Error {}

/** @returns false where blanking is not enough; what was edited until then is worth nothing */
export function eraseTypes(source: ts.SourceFile, edits: TextEdits): boolean {
  try {
    new Eraser(source, edits).all()
    return true
  } catch (error) {
    if (error instanceof NotByBlanking) return false
    throw error
  }
}

/** Emitted code, or none that this runtime knows. */
const ownCode = once(
  () =>
    new Set<ts.SyntaxKind>([
      ts.SyntaxKind.EnumDeclaration,
      ts.SyntaxKind.ModuleDeclaration,
      ts.SyntaxKind.ImportEqualsDeclaration,
      ts.SyntaxKind.NamespaceExportDeclaration,
      ts.SyntaxKind.Decorator,
      ts.SyntaxKind.AccessorKeyword,
      ts.SyntaxKind.TypeAssertionExpression,
    ]),
)

/** Of members: what only the checker reads. */
const memberWords = once(
  () =>
    new Set<ts.SyntaxKind>([
      ts.SyntaxKind.AbstractKeyword,
      ts.SyntaxKind.OverrideKeyword,
      ts.SyntaxKind.PrivateKeyword,
      ts.SyntaxKind.ProtectedKeyword,
      ts.SyntaxKind.PublicKeyword,
      ts.SyntaxKind.ReadonlyKeyword,
    ]),
)

const logical = once(
  () =>
    new Set<ts.SyntaxKind>([
      ts.SyntaxKind.QuestionQuestionToken,
      ts.SyntaxKind.BarBarToken,
      ts.SyntaxKind.AmpersandAmpersandToken,
    ]),
)

type Signature = ts.FunctionLikeDeclaration

class Eraser {
  constructor(
    private readonly source: ts.SourceFile,
    private readonly edits: TextEdits,
  ) {}

  all(): void {
    // Tells a shell what to run; no hook is run by one.
    const shebang = /^#!.*/.exec(this.source.text)
    if (shebang) this.edits.blank(0, shebang[0].length)
    this.#children(this.source)
  }

  readonly #visit = (node: ts.Node): void => {
    if (ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)) return this.#whole(node)
    if (ts.isStatement(node) && isDeclared(node)) return this.#whole(node)
    if (ownCode().has(node.kind)) throw new NotByBlanking()
    // Those of modules are another one's work (modules.ts).
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) return
    if (ts.isExportAssignment(node) && node.isExportEquals) throw new NotByBlanking()
    if (ts.isVariableDeclarationList(node) && (node.flags & ts.NodeFlags.Using) === ts.NodeFlags.Using) throw new NotByBlanking()
    if (ts.isIndexSignatureDeclaration(node)) return this.#whole(node)
    if (ts.isVariableDeclaration(node)) {
      this.#part(node.exclamationToken)
      this.#type(node.type)
    } else if (ts.isClassLike(node)) return this.#class(node)
    else if (isFunction(node)) return this.#function(node)
    else if (ts.isPropertyDeclaration(node)) return this.#property(node)
    else if (ts.isNonNullExpression(node)) this.edits.blank(node.end - 1, node.end)
    else if (ts.isAsExpression(node) || ts.isSatisfiesExpression(node)) return this.#assertion(node)
    else if (ts.isCallExpression(node) || ts.isNewExpression(node) || ts.isTaggedTemplateExpression(node))
      this.#angled(node.typeArguments)
    else if (ts.isExpressionWithTypeArguments(node) && ts.isHeritageClause(node.parent)) this.#angled(node.typeArguments)
    else if (ts.isTypeNode(node)) throw new NotByBlanking()
    this.#children(node)
  }

  #children(node: ts.Node): void {
    ts.forEachChild(node, (child) => {
      // Those that belong somewhere have been blanked by what they belong to.
      if (!this.#erased.has(child)) this.#visit(child)
    })
  }

  readonly #erased = new Set<ts.Node>()

  #part(node: ts.Node | undefined): void {
    if (!node) return
    this.#erased.add(node)
    this.edits.blank(node.getStart(this.source), node.end)
  }

  /** With the colon before it. */
  #type(node: ts.TypeNode | undefined): void {
    if (!node) return
    this.#erased.add(node)
    this.edits.blank(node.pos - 1, node.end)
  }

  /** With the angle brackets around them. */
  #angled(nodes: ts.NodeArray<ts.TypeNode | ts.TypeParameterDeclaration> | undefined): void {
    if (!nodes) return
    for (const node of nodes) this.#erased.add(node)
    this.edits.blank(nodes.pos - 1, this.#afterAngle(nodes.end))
  }

  #afterAngle(from: number): number {
    const close = /^(?:\s|,|\/\*[^]*?\*\/|\/\/.*)*>/.exec(this.source.text.slice(from))
    if (!close) throw new NotByBlanking()
    return from + close[0].length
  }

  #hasLineEnd(start: number, end: number): boolean {
    return /[\r\n\u2028\u2029]/.test(this.source.text.slice(start, end))
  }

  /** A statement or member of which nothing stays; an empty one does, so that its neighbours are not read as one. */
  #whole(node: ts.Node): void {
    const start = node.getStart(this.source)
    this.edits.blank(start, node.end)
    this.edits.before(start, ';', RANK.type)
  }

  #class(node: ts.ClassLikeDeclaration): void {
    for (const word of node.modifiers ?? []) if (word.kind === ts.SyntaxKind.AbstractKeyword) this.#part(word)
    this.#angled(node.typeParameters)
    for (const clause of node.heritageClauses ?? []) if (clause.token === ts.SyntaxKind.ImplementsKeyword) this.#part(clause)
    this.#children(node)
  }

  #property(node: ts.PropertyDeclaration): void {
    if (node.modifiers?.some(({ kind }) => kind === ts.SyntaxKind.AbstractKeyword || kind === ts.SyntaxKind.DeclareKeyword))
      return this.#whole(node)
    this.#memberWords(node)
    this.#part(node.exclamationToken ?? node.questionToken)
    this.#type(node.type)
    if (!node.initializer && node.type) this.#end(node)
    this.#children(node)
  }

  #memberWords(node: ts.PropertyDeclaration | Signature): void {
    for (const word of node.modifiers ?? []) {
      if (!memberWords().has(word.kind)) continue
      // As of a statement: the name could be read as a part of what stands before.
      const start = word.getStart(this.source)
      if (start === node.getStart(this.source)) this.edits.before(start, ';', RANK.type)
      this.#part(word)
    }
  }

  #function(node: Signature): void {
    if (!node.body) return this.#whole(node)
    if (ts.isClassElement(node)) this.#memberWords(node)
    this.#part((node as ts.MethodDeclaration).questionToken)
    if (ts.isArrowFunction(node)) {
      // A line end that only types allowed would end a statement, or part the parameters from the arrow.
      const { typeParameters, type } = node
      if (typeParameters && this.#hasLineEnd(typeParameters.pos - 1, node.parameters.pos)) throw new NotByBlanking()
      if (type && this.#hasLineEnd(node.parameters.end, node.equalsGreaterThanToken.pos)) throw new NotByBlanking()
    }
    this.#angled(node.typeParameters)
    for (const [at, parameter] of node.parameters.entries()) this.#parameter(parameter, at)
    this.#type(node.type)
    this.#children(node)
  }

  #parameter(node: ts.ParameterDeclaration, at: number): void {
    // With `public` and its like it sets a property.
    if (node.modifiers?.length) throw new NotByBlanking()
    if (at === 0 && ts.isIdentifier(node.name) && node.name.text === 'this') {
      this.#part(node)
      const comma = /^(?:\s|\/\*[^]*?\*\/|\/\/.*)*,/.exec(this.source.text.slice(node.end))
      if (comma) this.edits.blank(node.end, node.end + comma[0].length)
      return
    }
    this.#part(node.questionToken)
    this.#type(node.type)
  }

  #assertion(node: ts.AsExpression | ts.SatisfiesExpression): void {
    if (wouldRegroup(node)) throw new NotByBlanking()
    this.#erased.add(node.type)
    this.edits.blank(node.expression.end, node.end)
    for (let outer: ts.Node = node; outer.end === node.end; outer = outer.parent)
      if (ts.isStatement(outer) || ts.isExportAssignment(outer) || ts.isPropertyDeclaration(outer)) {
        this.#end(outer)
        break
      }
    this.#children(node)
  }

  /** A semicolon where there is none: the type kept it apart from the next line. */
  #end(node: ts.Node): void {
    if (this.source.text[node.end - 1] !== ';') this.edits.afterStatement(node, ';', RANK.type)
  }
}

const isFunction = (node: ts.Node): node is Signature =>
  ts.isFunctionDeclaration(node) ||
  ts.isFunctionExpression(node) ||
  ts.isArrowFunction(node) ||
  ts.isMethodDeclaration(node) ||
  ts.isConstructorDeclaration(node) ||
  ts.isAccessor(node)

const isLogical = (node: ts.Node): node is ts.BinaryExpression =>
  ts.isBinaryExpression(node) && logical().has(node.operatorToken.kind)

/** `1 + 1 as T / 2` is a product, `a ?? b as T && c` may stand without parentheses: both only as long as the type is there. */
function wouldRegroup(node: ts.AsExpression | ts.SatisfiesExpression): boolean {
  let inner: ts.Expression = node.expression
  while (ts.isAsExpression(inner) || ts.isSatisfiesExpression(inner)) inner = inner.expression
  const { parent } = node
  if (!ts.isBinaryExpression(parent)) return false
  const { kind } = parent.operatorToken
  if (kind === ts.SyntaxKind.AsteriskAsteriskToken) return true
  if (ts.isBinaryExpression(inner) && !isAssignment(parent)) return true
  return isLogical(parent) && isLogical(parent.parent) && kind !== parent.parent.operatorToken.kind
}
