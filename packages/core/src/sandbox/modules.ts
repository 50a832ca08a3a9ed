import ts from '#typescript'
import { isAssignment, isDeclared } from './syntax.js'
import { RANK, type TextEdits } from './text-edits.js'

/**
 * Makes of a module's imports and exports what the sandbox gives it: an object to put its exports in, and a function that gives the exports of others.
 * Modules are loaded in the order of their imports, none imports itself by way of others, and what one exports is final when it has run (sandbox.ts):
 * so an import can be a constant, and the exports can be put in at the end.
 */

/** By which names the code finds them. */
export interface ModuleNames {
  exports: string
  require: string
}

/** @returns false where an export may change after it was put in, which TypeScript's emitter follows */
export function bindModules(source: ts.SourceFile, edits: TextEdits, names: ModuleNames): boolean {
  return new Binder(source, edits, names).all()
}

class Binder {
  /** Names by which the code may hold a value. */
  readonly #used = new Set<string>()
  /** Names that something may be assigned to. */
  readonly #assigned = new Set<string>()
  /** What is exported, as written at the end. What another module exports as a whole gives way to what is named, before or after it. */
  readonly #ends: string[] = []
  /** Names of the module that hold a value. */
  readonly #values = new Set<string>()
  readonly #exported = new Set<string>()

  constructor(
    private readonly source: ts.SourceFile,
    private readonly edits: TextEdits,
    private readonly names: ModuleNames,
  ) {}

  all(): boolean {
    this.#look(this.source)
    for (const statement of this.source.statements) this.#noteValues(statement)
    for (const statement of this.source.statements) this.#bind(statement)
    if (this.#ends.length > 0) this.edits.atEnd(`\n${this.#ends.join('')}`)
    return ![...this.#exported].some((name) => this.#assigned.has(name))
  }

  readonly #look = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)) return
    if (ts.isTypeNode(node) && !ts.isExpressionWithTypeArguments(node)) return
    if (ts.isIdentifier(node)) this.#used.add(node.text)
    if (ts.isBinaryExpression(node) && isAssignment(node)) this.#assign(node.left)
    else if (ts.isPrefixUnaryExpression(node) || ts.isPostfixUnaryExpression(node)) this.#assign(node.operand)
    else if (ts.isForOfStatement(node) || ts.isForInStatement(node)) this.#assign(node.initializer)
    ts.forEachChild(node, this.#look)
  }

  /** All names in it: of a pattern, not each is one that is assigned to. */
  readonly #assign = (node: ts.Node): void => {
    if (ts.isIdentifier(node)) this.#assigned.add(node.text)
    else if (!ts.isVariableDeclarationList(node)) ts.forEachChild(node, this.#assign)
  }

  #noteValues(statement: ts.Statement): void {
    if (isDeclared(statement)) return
    if (ts.isVariableStatement(statement)) for (const name of namesOf(statement.declarationList)) this.#values.add(name)
    else if ((ts.isFunctionDeclaration(statement) && statement.body) || ts.isClassDeclaration(statement)) {
      if (statement.name) this.#values.add(statement.name.text)
    } else if (ts.isImportDeclaration(statement))
      for (const { name } of importedNames(statement)) if (this.#used.has(name)) this.#values.add(name)
  }

  #bind(statement: ts.Statement): void {
    if (isDeclared(statement)) return
    if (ts.isImportDeclaration(statement)) this.#import(statement)
    else if (ts.isExportDeclaration(statement)) this.#exportNames(statement)
    else if (ts.isExportAssignment(statement)) this.#exportDefault(statement)
    else if (ts.isVariableStatement(statement)) {
      if (!this.#blankWords(statement)) return
      for (const name of namesOf(statement.declarationList)) this.#end(name, name)
    } else if ((ts.isFunctionDeclaration(statement) && statement.body) || ts.isClassDeclaration(statement))
      this.#exportDeclared(statement)
  }

  /** `x` of `exports.x`. */
  #exports(name: string): string {
    return `${this.names.exports}[${JSON.stringify(name)}]`
  }

  #require(specifier: ts.Expression): string {
    return `${this.names.require}(${JSON.stringify((specifier as ts.StringLiteral).text)})`
  }

  #end(local: string, exported: string): void {
    this.#exported.add(local)
    this.#ends.push(`${this.#exports(exported)}=${local};`)
  }

  #replace(node: ts.Node, text: string): void {
    this.edits.blank(node.getStart(this.source), node.end)
    this.edits.before(node.getStart(this.source), text, RANK.module)
  }

  #import(node: ts.ImportDeclaration): void {
    const required = this.#require(node.moduleSpecifier)
    if (!node.importClause) return this.#replace(node, `${required};`)
    const used = importedNames(node).filter(({ name }) => this.#used.has(name))
    const parts = used.flatMap(({ name, of }) => (typeof of === 'string' ? [`${JSON.stringify(of)}:${name}`] : []))
    const whole = used.filter(({ of }) => of === WHOLE).map(({ name }) => `${name}=${required}`)
    const bound = parts.length > 0 ? [`{${parts.join(',')}}=${required}`, ...whole] : whole
    this.#replace(node, bound.length > 0 ? `const ${bound.join(',')};` : ';')
  }

  #exportNames(node: ts.ExportDeclaration): void {
    const { exportClause: clause, moduleSpecifier: from } = node
    if (node.isTypeOnly) return this.#replace(node, ';')
    const required = from ? this.#require(from) : ''
    this.#replace(node, `${required};`)
    if (!clause) {
      const { exports } = this.names
      this.#ends.push(`{const m=${required};for(const k in m)if(k!=="default"&&!(k in ${exports}))${exports}[k]=m[k];}`)
    } else if (ts.isNamespaceExport(clause)) this.#ends.push(`${this.#exports(clause.name.text)}=${required};`)
    else
      for (const { isTypeOnly, name, propertyName } of clause.elements) {
        const local = (propertyName ?? name).text
        if (isTypeOnly || (!from && !this.#values.has(local))) continue
        if (from) this.#ends.push(`${this.#exports(name.text)}=${required}[${JSON.stringify(local)}];`)
        else this.#end(local, name.text)
      }
  }

  #exportDefault(node: ts.ExportAssignment): void {
    const { expression } = node
    // The name of a type.
    if (ts.isIdentifier(expression) && !this.#values.has(expression.text) && this.#isType(expression.text))
      return this.#replace(node, ';')
    const start = node.getStart(this.source)
    this.edits.blank(start, expression.getStart(this.source))
    this.edits.before(start, `${this.#exports('default')}=`, RANK.module)
  }

  #isType(name: string): boolean {
    return this.source.statements.some(
      (each) => (ts.isInterfaceDeclaration(each) || ts.isTypeAliasDeclaration(each)) && each.name.text === name,
    )
  }

  #exportDeclared(node: ts.FunctionDeclaration | ts.ClassDeclaration): void {
    const isDefault = node.modifiers?.some(({ kind }) => kind === ts.SyntaxKind.DefaultKeyword) ?? false
    if (!this.#blankWords(node)) return
    if (node.name) return this.#end(node.name.text, isDefault ? 'default' : node.name.text)
    const start = node.getStart(this.source)
    this.edits.before(start, `${this.#exports('default')}=`, RANK.module)
    this.edits.afterStatement(node, ';', RANK.module)
  }

  /** `export` and `default`. @returns false where neither stands there */
  #blankWords(node: ts.VariableStatement | ts.FunctionDeclaration | ts.ClassDeclaration): boolean {
    const words = (node.modifiers ?? []).filter(
      ({ kind }) => kind === ts.SyntaxKind.ExportKeyword || kind === ts.SyntaxKind.DefaultKeyword,
    )
    for (const word of words) this.edits.blank(word.getStart(this.source), word.end)
    return words.length > 0
  }
}

/** All of what a module exports. */
const WHOLE = Symbol('whole')

/** @returns the names that it binds, by what they are called there; types by name are left out */
function importedNames({
  importClause: clause,
  moduleSpecifier,
}: ts.ImportDeclaration): { name: string; of: string | typeof WHOLE }[] {
  if (!clause || clause.isTypeOnly) return []
  const named = clause.namedBindings
  // What the language gives has no default: then it is all of it.
  const byDefault = ts.isStringLiteral(moduleSpecifier) && moduleSpecifier.text.startsWith('.') ? 'default' : WHOLE
  const bound: { name: string; of: string | typeof WHOLE }[] = clause.name ? [{ name: clause.name.text, of: byDefault }] : []
  if (!named) return bound
  if (ts.isNamespaceImport(named)) return [...bound, { name: named.name.text, of: WHOLE }]
  const parts = named.elements.filter(({ isTypeOnly }) => !isTypeOnly)
  return [...bound, ...parts.map(({ name, propertyName }) => ({ name: name.text, of: (propertyName ?? name).text }))]
}

/** The names that variables or patterns bind. */
function namesOf(list: ts.VariableDeclarationList | ts.BindingPattern): string[] {
  const parts: readonly (ts.VariableDeclaration | ts.ArrayBindingElement)[] = ts.isVariableDeclarationList(list)
    ? list.declarations
    : list.elements
  return parts.flatMap((part) => {
    if (ts.isOmittedExpression(part)) return []
    return ts.isIdentifier(part.name) ? [part.name.text] : namesOf(part.name)
  })
}
