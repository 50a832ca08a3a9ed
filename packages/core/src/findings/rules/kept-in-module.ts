import ts from '#typescript'
import { importedCode } from '../imported-code.js'
import { isFunction } from '../record-names.js'
import type { Rule } from '../types.js'
import { walk } from '../syntax.js'

const CHANGES = new Set('push pop shift unshift splice sort reverse fill copyWithin set add delete clear'.split(' '))

export const keptInModule: Rule = {
  meta: {
    name: 'kept-in-module',
    severity: 'warning',
    title: 'Something kept outside of the functions',
    why: 'A let, or a list, map or object that is changed, lies outside of the functions: it goes from row to row within a save, so the result depends on the order and number of rows; and it is gone with the next save. Keep it in load or finish, or in a record.',
  },
  examples: {
    pass: [
      `import { defineHook } from 'patient-hook'\nconst BAYS = ['A', 'B']\nlet unused = 5\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { row.now.bay ??= BAYS[0] ?? null } })`,
      `import { defineHook } from 'patient-hook'\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { let n = 0; const bays = []; bays.push('A'); n++; row.now.bay ??= bays[n] ?? null } })`,
    ],
    fail: [
      `import { defineHook } from 'patient-hook'\nlet n = 0\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { row.now.bay ??= 'B' + ++n } })`,
      `import { defineHook } from 'patient-hook'\nconst seen = new Set()\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { if (seen.has(row.now.bay)) row.refuse('bay', 'taken'); seen.add(row.now.bay) } })`,
      `import { defineHook } from 'patient-hook'\nconst last = { bay: 'A' }\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { row.now.bay ??= last.bay; last.bay = row.now.bay } })`,
    ],
  },
  look({ hook, read, say }) {
    for (const { name, at } of keptBy(hook.source.statements))
      say(
        at,
        `${name} lies outside of the functions, and what is kept in it goes from row to row: keep it in load or finish, or in a record`,
      )
    for (const { file, node, at } of importedCode(hook.source, hook.file, read))
      if (ts.isVariableStatement(node))
        for (const { name } of keptBy(node.getSourceFile().statements).filter((kept) => within(kept.declaration, node)))
          say(at, `${file} keeps ${name} outside of its functions: what is kept in it goes from row to row`)
  },
}

interface Kept {
  name: string
  declaration: ts.Node
  /** Where it is changed. */
  at: ts.Node
}

function keptBy(statements: readonly ts.Statement[]): Kept[] {
  const names = new Map<string, ts.Node>()
  for (const statement of statements)
    if (ts.isVariableStatement(statement))
      for (const { name } of statement.declarationList.declarations) if (ts.isIdentifier(name)) names.set(name.text, name)
  const kept = new Map<string, Kept>()
  const look = (node: ts.Node, inFunction: boolean, hidden: ReadonlySet<string>): void => {
    if (isFunction(node) || ts.isFunctionDeclaration(node)) {
      const own = new Set([...hidden, ...declaredIn(node)])
      ts.forEachChild(node, (child) => look(child, true, own))
      return
    }
    if (inFunction) {
      const name = changedBy(node)
      const declaration = name && !hidden.has(name.text) ? names.get(name.text) : undefined
      if (name && declaration && !kept.has(name.text)) kept.set(name.text, { name: name.text, declaration, at: node })
    }
    ts.forEachChild(node, (child) => look(child, inFunction, hidden))
  }
  for (const statement of statements) look(statement, false, new Set())
  return [...kept.values()]
}

/** Names that a function declares itself, for which those of the module cannot be meant. */
function declaredIn(fn: ts.Node): Set<string> {
  const names = new Set<string>()
  walk(fn, (node) => {
    if ((ts.isVariableDeclaration(node) || ts.isParameter(node) || ts.isBindingElement(node)) && ts.isIdentifier(node.name))
      names.add(node.name.text)
  })
  return names
}

/** The name whose value, or what it holds, this changes. */
function changedBy(node: ts.Node): ts.Identifier | null {
  if (ts.isBinaryExpression(node)) {
    const { kind } = node.operatorToken
    const assigns = kind >= ts.SyntaxKind.FirstAssignment && kind <= ts.SyntaxKind.LastAssignment
    return assigns ? beginning(node.left) : null
  }
  if (ts.isPrefixUnaryExpression(node) || ts.isPostfixUnaryExpression(node)) {
    const steps = node.operator === ts.SyntaxKind.PlusPlusToken || node.operator === ts.SyntaxKind.MinusMinusToken
    return steps ? beginning(node.operand) : null
  }
  if (ts.isDeleteExpression(node)) return beginning(node.expression)
  if (ts.isCallExpression(node) && ts.isPropertyAccessExpression(node.expression) && CHANGES.has(node.expression.name.text))
    return beginning(node.expression.expression)
  return null
}

function beginning(node: ts.Node): ts.Identifier | null {
  if (ts.isIdentifier(node)) return node
  if (
    ts.isPropertyAccessExpression(node) ||
    ts.isElementAccessExpression(node) ||
    ts.isNonNullExpression(node) ||
    ts.isParenthesizedExpression(node)
  )
    return beginning(node.expression)
  return null
}

const within = (inner: ts.Node, outer: ts.Node): boolean => inner.pos >= outer.pos && inner.end <= outer.end
