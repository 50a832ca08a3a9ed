import ts from '#typescript'
import { isAssignment, isWritten } from './syntax.js'

/**
 * Can a module keep something from one call of it to the next? Where that cannot be ruled out by looking at its text, it
 * is run again for each save and each test; so whatever it keeps is gone then.
 */

/** Methods of lists, maps, sets and texts that change nothing. */
const READS = new Set(
  (
    'at concat endsWith entries every filter find findIndex findLast flat flatMap forEach get has includes indexOf join keys ' +
    'lastIndexOf map match reduce replace replaceAll slice some split startsWith test toFixed toLowerCase toSorted toString ' +
    'toUpperCase trim values'
  ).split(' '),
)
/** What takes a value and keeps its hands off it. */
const TAKES = new Set(
  (
    'Boolean JSON.stringify Math.max Math.min Number Object.entries Object.keys Object.values String Array.from Map Set save saveMany ' +
    'saveAll copy expect test.each log send update create fill'
  ).split(' '),
)

type Place = ts.Node & { parent: ts.Node }

export interface ModuleState {
  /** It may keep something from one call to the next. */
  keepsState: boolean
  /**
   * Names of the top level whose functions, classes and patterns are to be frozen once the module has run: a property of one of them
   * would be kept. Empty where the module may keep something anyhow.
   */
  sealed: readonly string[]
}

export function stateOf(source: ts.SourceFile): ModuleState {
  const module = new ModuleText(source)
  const keepsState = source.statements.some((statement) => module.keeps(statement))
  return { keepsState, sealed: keepsState ? [] : source.statements.flatMap((statement) => module.toSeal(statement)) }
}

class ModuleText {
  readonly #uses = new Map<string, ts.Identifier[]>()
  #mentionsGlobal = false

  constructor(source: ts.SourceFile) {
    const look = (node: ts.Node): void => {
      if (ts.isTypeNode(node)) return
      if (ts.isIdentifier(node)) {
        if (node.text === 'globalThis') this.#mentionsGlobal = true
        const { parent } = node
        const isName =
          (ts.isPropertyAccessExpression(parent) && parent.name === node) ||
          (ts.isPropertyAssignment(parent) && parent.name === node)
        if (!isName) this.#add(node)
      }
      ts.forEachChild(node, look)
    }
    look(source)
  }

  #add(node: ts.Identifier): void {
    const uses = this.#uses.get(node.text)
    if (uses) uses.push(node)
    else this.#uses.set(node.text, [node])
  }

  keeps(statement: ts.Statement): boolean {
    if (this.#mentionsGlobal) return true
    if (
      ts.isImportDeclaration(statement) ||
      ts.isInterfaceDeclaration(statement) ||
      ts.isTypeAliasDeclaration(statement) ||
      ts.isExportDeclaration(statement) ||
      ts.isEmptyStatement(statement)
    )
      return false
    if (ts.isFunctionDeclaration(statement)) return statement.name !== undefined && this.#isAltered(statement.name)
    if (ts.isClassDeclaration(statement))
      return !isPlainClass(statement) || (statement.name !== undefined && this.#isAltered(statement.name))
    if (ts.isExportAssignment(statement)) return !isDefinition(statement.expression) && kindOf(statement.expression) !== 'inert'
    if (ts.isExpressionStatement(statement)) {
      // What is in the function of a describe stands there once for all its tests.
      const body = describedBy(statement.expression)
      return body ? body.some((each) => this.keeps(each)) : !isTestCall(statement.expression)
    }
    if (!ts.isVariableStatement(statement)) return true
    const isExported = statement.modifiers?.some((each) => each.kind === ts.SyntaxKind.ExportKeyword) ?? false
    return statement.declarationList.declarations.some((declaration) => this.#declarationKeeps(declaration, isExported))
  }

  /** Names that a statement gives to what can have properties. What is exported is frozen with the exports. */
  toSeal(statement: ts.Statement): string[] {
    const isExported = ts.canHaveModifiers(statement) && (ts.getModifiers(statement) ?? []).some(isExport)
    if (isExported) return []
    if (ts.isFunctionDeclaration(statement) || ts.isClassDeclaration(statement))
      return isDeclared(statement) ? [statement.name!.text] : []
    if (!ts.isVariableStatement(statement)) return []
    return statement.declarationList.declarations.flatMap(({ name, initializer }) => {
      if (!ts.isIdentifier(name) || !initializer) return []
      const inner = bare(initializer)
      // A frozen pattern is several times slower.
      if (ts.isRegularExpressionLiteral(inner))
        return (this.#uses.get(name.text) ?? []).every((use) => use === name || onlyMatches(use)) ? [] : [name.text]
      return ts.isLiteralExpression(inner) ? [] : [name.text]
    })
  }

  #declarationKeeps({ name, initializer }: ts.VariableDeclaration, isExported: boolean): boolean {
    if (!ts.isIdentifier(name) || !initializer) return true
    const kind = kindOf(initializer)
    if (kind === 'unknown') return true
    if (this.#isAltered(name)) return true
    if (kind === 'inert') return false
    // Plain lists and objects that are exported are frozen when the module has run (sandbox.ts).
    if (isExported) return kind === 'made'
    return (this.#uses.get(name.text) ?? []).some((use) => use !== name && !isRead(use, kind))
  }

  /** Is the name, or anything reached through it, assigned to? */
  #isAltered(name: ts.Identifier): boolean {
    return (this.#uses.get(name.text) ?? []).some((use) => use !== name && isWritten(reached(use)))
  }
}

/** Has it a name, and code? An overload has none. */
const isDeclared = (statement: ts.FunctionDeclaration | ts.ClassDeclaration): boolean =>
  statement.name !== undefined &&
  (ts.isClassDeclaration(statement) || statement.body !== undefined) &&
  !(ts.getModifiers(statement) ?? []).some(({ kind }) => kind === ts.SyntaxKind.DeclareKeyword)

const isExport = ({ kind }: ts.ModifierLike): boolean => kind === ts.SyntaxKind.ExportKeyword

/** An expression without its parentheses and types. */
function bare(node: ts.Expression): ts.Expression {
  return ts.isParenthesizedExpression(node) ||
    ts.isAsExpression(node) ||
    ts.isSatisfiesExpression(node) ||
    ts.isNonNullExpression(node)
    ? bare(node.expression)
    : node
}

/** Methods of a pattern that do not change one without `g` and `y`, and methods of texts that take one. */
const MATCHES = new Set(['test', 'exec', 'source', 'flags'])
const TAKES_PATTERN = new Set(['replace', 'match', 'search', 'split'])

/** Is the pattern only matched here: `NAME.test(text)`, `text.replace(NAME, …)`? */
function onlyMatches(use: ts.Identifier): boolean {
  const { parent } = use as Place
  if (ts.isPropertyAccessExpression(parent) && parent.expression === use) return MATCHES.has(parent.name.text)
  return (
    ts.isCallExpression(parent) &&
    parent.arguments[0] === use &&
    ts.isPropertyAccessExpression(parent.expression) &&
    TAKES_PATTERN.has(parent.expression.name.text)
  )
}

/** The whole of `name.a[0].b` of which this is the beginning. */
function reached(use: ts.Node): ts.Node {
  let node = use
  for (;;) {
    const { parent } = node as Place
    const goesOn =
      ((ts.isPropertyAccessExpression(parent) || ts.isElementAccessExpression(parent)) && parent.expression === node) ||
      ts.isNonNullExpression(parent) ||
      ts.isParenthesizedExpression(parent) ||
      ts.isAsExpression(parent)
    if (!goesOn) return node
    node = parent
  }
}

/** Does this use only read, so that nobody gets hold of what could be changed? */
function isRead(use: ts.Identifier, kind: 'flat' | 'deep' | 'made'): boolean {
  const whole = reached(use)
  const { parent } = whole as Place
  if (ts.isCallExpression(parent) && parent.expression === whole)
    return whole !== use && kind !== 'deep' && ts.isPropertyAccessExpression(whole) && READS.has(whole.name.text)
  if (whole !== use && kind !== 'deep') return true
  if (ts.isPropertyAccessExpression(whole) && whole.name.text === 'length') return true
  if (ts.isSpreadElement(parent) || ts.isForOfStatement(parent)) return kind !== 'deep'
  if (ts.isTypeOfExpression(parent) || ts.isTemplateSpan(parent) || ts.isExportSpecifier(parent))
    return !ts.isExportSpecifier(parent)
  if (ts.isBinaryExpression(parent)) return !isAssignment(parent)
  if (ts.isCallExpression(parent) || ts.isNewExpression(parent)) return kind !== 'deep' && TAKES.has(parent.expression.getText())
  return false
}

/**
 * inert: it cannot be changed. flat: a list or object of such. deep: one that holds others. made: what a call or
 * `new` gave, whose contents are values. unknown: anything else.
 */
type Kind = 'inert' | 'flat' | 'deep' | 'made' | 'unknown'

function kindOf(node: ts.Expression): Kind {
  if (ts.isParenthesizedExpression(node) || ts.isAsExpression(node) || ts.isSatisfiesExpression(node))
    return kindOf(node.expression)
  if (ts.isArrowFunction(node) || ts.isFunctionExpression(node) || ts.isIdentifier(node) || ts.isLiteralExpression(node))
    return ts.isRegularExpressionLiteral(node) && /[gy][a-z]*$/.test(node.text) ? 'unknown' : 'inert'
  if (
    node.kind === ts.SyntaxKind.TrueKeyword ||
    node.kind === ts.SyntaxKind.FalseKeyword ||
    node.kind === ts.SyntaxKind.NullKeyword
  )
    return 'inert'
  if (ts.isPropertyAccessExpression(node)) return kindOf(node.expression)
  if (ts.isPrefixUnaryExpression(node)) return kindOf(node.operand)
  if (ts.isBinaryExpression(node) && !isAssignment(node)) return allInert([node.left, node.right]) ? 'inert' : 'unknown'
  if (ts.isConditionalExpression(node)) return allInert([node.condition, node.whenTrue, node.whenFalse]) ? 'inert' : 'unknown'
  if (ts.isTemplateExpression(node)) return allInert(node.templateSpans.map((span) => span.expression)) ? 'inert' : 'unknown'
  if (ts.isArrayLiteralExpression(node)) return ofParts(node.elements)
  if (ts.isObjectLiteralExpression(node)) {
    if (node.properties.some((each) => !ts.isPropertyAssignment(each) && !ts.isMethodDeclaration(each))) return 'unknown'
    return ofParts(node.properties.flatMap((each) => (ts.isPropertyAssignment(each) ? [each.initializer] : [])))
  }
  if (ts.isNewExpression(node) && ['Map', 'Set'].includes(node.expression.getText())) {
    const [contents] = node.arguments ?? []
    if (!contents) return 'made'
    // A map is made of pairs, whose second parts are what it holds.
    const pairs = ts.isArrayLiteralExpression(contents) ? contents.elements : [contents]
    const values = pairs.flatMap((pair) => (ts.isArrayLiteralExpression(pair) ? [...pair.elements] : [pair]))
    return allInert(values) ? 'made' : 'unknown'
  }
  return 'unknown'
}

const allInert = (nodes: readonly ts.Expression[]): boolean => nodes.every((each) => kindOf(each) === 'inert')

function ofParts(parts: readonly ts.Expression[]): Kind {
  const kinds = parts.map((each) => (ts.isSpreadElement(each) ? 'unknown' : kindOf(each)))
  if (kinds.includes('unknown') || kinds.includes('made')) return 'unknown'
  return kinds.every((kind) => kind === 'inert') ? 'flat' : 'deep'
}

const isPlainClass = (node: ts.ClassDeclaration): boolean =>
  node.members.every(
    (member) =>
      !ts.isClassStaticBlockDeclaration(member) &&
      !(
        ts.isPropertyDeclaration(member) &&
        (ts.getModifiers(member) ?? []).some((each) => each.kind === ts.SyntaxKind.StaticKeyword)
      ),
  )

/** `defineHook({ … })` with a literal of which every part is a function, a text or a list of texts. */
function isDefinition(node: ts.Expression): boolean {
  if (!ts.isCallExpression(node) || node.expression.getText() !== 'defineHook' || node.arguments.length !== 1) return false
  const kind = kindOf(node.arguments[0]!)
  return kind === 'flat' || kind === 'deep' || kind === 'inert'
}

/** The statements of `describe(name, () => { … })`. */
function describedBy(node: ts.Expression): readonly ts.Statement[] | null {
  if (!ts.isCallExpression(node) || !/^describe(\.skip)?$/.test(node.expression.getText())) return null
  const body = node.arguments[1]
  return body && ts.isFunctionLike(body) && 'body' in body && body.body && ts.isBlock(body.body) ? body.body.statements : null
}

/** `test(…)`, `describe(…)`, `test.each(…)(…)`: what they are given runs later, or only tells of tests. */
const isTestCall = (node: ts.Expression): boolean =>
  ts.isCallExpression(node) && /^(test|describe|beforeEach)\b/.test(node.expression.getText())
