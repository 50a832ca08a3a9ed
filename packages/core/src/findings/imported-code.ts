import ts from '#typescript'
import { importedPaths } from '../model/imports.js'
import { walk } from './syntax.js'
import { treeOf } from '../syntax-tree.js'

/** Code of the plugin's own modules that a hook reaches by what it imports. */
export interface ImportedCode {
  file: string
  /** A declaration at the top of that file. */
  node: ts.Node
  /** The name by which the hook imports what leads there. */
  at: ts.Node
}

/** What is reached through names that are imported, by name: a module's other functions are not the hook's concern. */
export function importedCode(source: ts.SourceFile, file: string, read: (file: string) => string | undefined): ImportedCode[] {
  const modules: ImportedCode[] = []
  const seen = new Set<ts.Node>()
  const parsed = new Map<string, ts.SourceFile>()
  const open = (from: string, specifier: string): [string, ts.SourceFile] | null => {
    for (const path of importedPaths(from, specifier) ?? []) {
      const text = parsed.has(path) ? '' : read(path)
      if (text === undefined) continue
      if (!parsed.has(path)) parsed.set(path, treeOf(path, text))
      return [path, parsed.get(path)!]
    }
    return null
  }
  const reach = (path: string, module: ts.SourceFile, name: string, at: ts.Node): void => {
    for (const statement of module.statements) {
      if (!declares(statement, name) || seen.has(statement)) continue
      seen.add(statement)
      modules.push({ file: path, node: statement, at })
      const mentioned = new Set<string>()
      walk(statement, (node) => {
        if (ts.isIdentifier(node)) mentioned.add(node.text)
      })
      for (const each of mentioned) if (each !== name) reach(path, module, each, at)
      for (const { specifier, exported, local } of importsOf(module)) {
        const next = mentioned.has(local.text) ? open(path, specifier) : null
        if (next) reach(next[0], next[1], exported, at)
      }
    }
  }
  for (const { specifier, exported, local } of importsOf(source)) {
    const next = open(file, specifier)
    if (next) reach(next[0], next[1], exported, local)
  }
  return modules
}

interface Imported {
  specifier: string
  exported: string
  local: ts.Identifier
}

function importsOf(source: ts.SourceFile): Imported[] {
  return source.statements.flatMap((statement) => {
    if (!ts.isImportDeclaration(statement) || !ts.isStringLiteral(statement.moduleSpecifier)) return []
    const { importClause, moduleSpecifier } = statement
    const named = importClause?.namedBindings
    const specifier = moduleSpecifier.text
    if (!specifier.startsWith('.') || importClause?.isTypeOnly) return []
    return [
      ...(importClause?.name ? [{ specifier, exported: 'default', local: importClause.name }] : []),
      ...(named && ts.isNamedImports(named)
        ? named.elements.map((each) => ({ specifier, exported: (each.propertyName ?? each.name).text, local: each.name }))
        : []),
      ...(named && ts.isNamespaceImport(named) ? [{ specifier, exported: '*', local: named.name }] : []),
    ]
  })
}

/** Does a statement at the top of a module declare the name? `*` is any, `default` the default export. */
function declares(statement: ts.Statement, name: string): boolean {
  if (ts.isImportDeclaration(statement)) return false
  if (name === '*') return true
  if (ts.isExportAssignment(statement)) return name === 'default'
  if (ts.isVariableStatement(statement))
    return statement.declarationList.declarations.some((each) => ts.isIdentifier(each.name) && each.name.text === name)
  if (!ts.isFunctionDeclaration(statement) && !ts.isClassDeclaration(statement)) return false
  const isDefault = statement.modifiers?.some((each) => each.kind === ts.SyntaxKind.DefaultKeyword) === true
  return statement.name?.text === name || (name === 'default' && isDefault)
}
