import ts from '#typescript'
import { definitionOf, initializer } from '../findings/uses.js'
import { importedPaths } from '../model/imports.js'
import type { Project } from '../model/types.js'
import { treeOf } from '../syntax-tree.js'

/**
 * Which unit tests a change of files can make come out otherwise. A test that might is among them; one that is not named runs the same
 * as before. Code is followed by its imports, hooks by the tables whose saves wake them: those that a test names, and those that
 * effects of their hooks, removals and before-commit hooks go on to.
 */
export function affectedTests(project: Project, changed: readonly string[]): string[] {
  const tests = [...project.plugins.values()].flatMap((plugin) => plugin.tests)
  const code = changed.filter((file) => /^plugins\/[^/]+\/(hooks|lib|tests)\//.test(file))
  const sets = changed.flatMap((file) => /^fixtures\/([^/]+)\//.exec(file)?.[1] ?? [])
  // Tables, users, sequences and who a hook is live for concern everything; the records of data/ concern no test.
  const others = changed.filter((file) => !code.includes(file) && !/^(fixtures|data)\//.test(file))
  // A hook or a module that is gone has no record of its work.
  const gone = code.some((file) => !project.files.has(file) && !file.endsWith('.test.ts'))
  if (others.length > 0 || gone) return tests
  const modules = new Modules(project)
  const reaches = reachOf(project, modules)
  const woken = [...project.plugins.values()].flatMap(({ hooks }) =>
    hooks.filter(({ file }) => modules.withImports(file).some((each) => code.includes(each))).map(({ file }) => modules.of(file)),
  )
  const tables = new Set(woken.map(({ table }) => table))
  return tests.filter((file) => {
    const own = modules.withImports(file)
    if (own.some((each) => code.includes(each))) return true
    const words = new Set(own.flatMap((each) => [...modules.of(each).words]))
    if (sets.some((set) => words.has(set))) return true
    if (tables.has(null)) return true
    const saved = [...words].filter((word) => project.tables.has(word))
    return saved.some((table) =>
      reaches(
        table,
        own.some((each) => modules.of(each).removes),
      ).some((each) => tables.has(each)),
    )
  })
}

/** What a module's text says of itself. */
interface Module {
  /** The table of the hook in it; null where there is none, or it cannot be known. */
  table: string | null
  moment: string | null
  words: ReadonlySet<string>
  imports: readonly string[]
  /** Tables that it asks effects of; null: any. */
  effects: readonly string[] | null
  /** It removes records. */
  removes: boolean
}

const EFFECTS = ['update', 'create', 'remove']

class Modules {
  readonly #known = new Map<string, Module>()
  constructor(private readonly project: Project) {}

  of(file: string): Module {
    let module = this.#known.get(file)
    if (!module) this.#known.set(file, (module = this.#read(file)))
    return module
  }

  /** The file and all that it imports, directly or not. */
  withImports(file: string): string[] {
    const files = new Set<string>()
    const add = (each: string): void => {
      if (files.has(each)) return
      files.add(each)
      this.of(each).imports.forEach(add)
    }
    add(file)
    return [...files]
  }

  #read(file: string): Module {
    const source = treeOf(file, this.project.files.get(file) ?? '')
    const words = new Set<string>()
    const imports: string[] = []
    let effects: string[] | null = []
    let removes = false
    const look = (node: ts.Node): void => {
      if (ts.isStringLiteralLike(node)) words.add(node.text)
      if (
        (ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) &&
        node.moduleSpecifier &&
        ts.isStringLiteral(node.moduleSpecifier)
      ) {
        const paths = node.moduleSpecifier.text.startsWith('.') ? (importedPaths(file, node.moduleSpecifier.text) ?? []) : []
        const target = paths.find((path) => this.project.files.has(path))
        if (target) imports.push(target)
      }
      if (ts.isCallExpression(node)) {
        const name = calledName(node.expression)
        if (EFFECTS.includes(name)) {
          const [table] = node.arguments
          if (table && ts.isStringLiteralLike(table)) effects?.push(table.text)
          else effects = null
        }
        if (name === 'remove') removes = true
      }
      // Handed on, or under another name: what becomes of it cannot be seen.
      if (ts.isIdentifier(node) && EFFECTS.includes(node.text) && !isInSight(node)) {
        effects = null
        removes = true
      }
      ts.forEachChild(node, look)
    }
    look(source)
    const literal = definitionOf(source)
    const textOf = (part: string): string | null => {
      const value = literal ? initializer(literal, part) : undefined
      return value && ts.isStringLiteralLike(value) ? value.text : null
    }
    return { table: textOf('table'), moment: textOf('moment'), words, imports, effects, removes }
  }
}

/** Is the name of an effect called, or bound as it is named? */
function isInSight(name: ts.Identifier): boolean {
  const { parent } = name
  if (ts.isCallExpression(parent)) return parent.expression === name
  if (ts.isPropertyAccessExpression(parent))
    return parent.name === name && ts.isCallExpression(parent.parent) && parent.parent.expression === parent
  if (ts.isBindingElement(parent)) return parent.propertyName === undefined
  return ts.isPropertyAssignment(parent) && parent.name === name
}

function calledName(callee: ts.Expression): string {
  if (ts.isIdentifier(callee)) return callee.text
  return ts.isPropertyAccessExpression(callee) ? callee.name.text : ''
}

/** @returns by table: the tables whose hooks a save of it may wake, itself among them */
function reachOf(project: Project, modules: Modules): (table: string, withRemovals: boolean) => string[] {
  const all = [...project.tables.keys()]
  const next = new Map<string, Set<string>>(all.map((table) => [table, new Set()]))
  const below = new Map<string, string[]>()
  const waiting = new Set<string>()
  let anyRemoves = false
  for (const plugin of project.plugins.values())
    for (const { file } of plugin.hooks) {
      const { table, moment } = modules.of(file)
      if (table === null || !next.has(table)) continue
      if (moment === 'before-commit') waiting.add(table)
      for (const each of modules.withImports(file)) {
        const { effects, removes } = modules.of(each)
        for (const target of effects ?? all) next.get(table)!.add(target)
        anyRemoves ||= removes
      }
    }
  for (const { name, fields } of project.tables.values())
    for (const { link } of fields) {
      if (!link) continue
      // A child's save wakes what its parent waits with until the commit.
      if (waiting.has(link.table)) next.get(name)!.add(link.table)
      below.set(link.table, [...(below.get(link.table) ?? []), name])
    }
  return (start, withRemovals) => {
    const reached = new Set<string>()
    const go = (table: string): void => {
      if (reached.has(table)) return
      reached.add(table)
      next.get(table)?.forEach(go)
      if (withRemovals || anyRemoves) below.get(table)?.forEach(go)
    }
    go(start)
    return [...reached]
  }
}
