import ts from '#typescript'
import { parametersOf } from '../syntax-tree.js'
import { ownerOf, RecordUse, runsLater, Unknown, useOfParameter, type RowFunction } from './record-use.js'

/**
 * Which fields of its record a hook's function can write, where its syntax tree proves it: then only those need to be
 * compared after it ran. The proof is conservative: as soon as the record is handed on as a value, or anything is done
 * with it that is not understood here, the answer is null and every field is compared.
 */

/** @param part the function given as a part of a hook's definition @returns null when it cannot be known */
export const writtenFields = (part: ts.Node | undefined): ReadonlySet<string> | null => useOf(part)?.fields ?? null

/** Fields that it can look at or write. @returns null when it cannot be known */
export const touchedFields = (part: ts.Node | undefined): ReadonlySet<string> | null => useOf(part)?.touched ?? null

function functionOf(part: ts.Node | undefined): RowFunction | null {
  const fn = part && ts.isPropertyAssignment(part) ? part.initializer : part
  return fn && (ts.isArrowFunction(fn) || ts.isFunctionExpression(fn) || ts.isMethodDeclaration(fn)) ? fn : null
}

function useOf(part: ts.Node | undefined): RecordUse | null {
  const fn = functionOf(part)
  return fn && known(() => useOfParameter(fn))
}

function known(use: () => RecordUse): RecordUse | null {
  try {
    return use()
  } catch (error) {
    if (error instanceof Unknown) return null
    throw error
  }
}

/** Methods of a list that hand its items to a function and do nothing else with them. */
const LIST = new Set(['map', 'flatMap', 'forEach', 'filter', 'some', 'every'])

/**
 * Does `load` only read the rows it is given? Proved where each use of them is `rows.map(row => …)` or similar, or `for (const row of rows) …`,
 * with a function or a body that writes nothing and hands no row on.
 */
export const onlyReadsRows = (part: ts.Node | undefined): boolean => usesOfRows(part) !== null

/** Fields of its rows that `load` or `finish` looks at, where it only reads them. @returns null when it cannot be known */
export function touchedFieldsOfRows(part: ts.Node | undefined): ReadonlySet<string> | null {
  const fields = new Set<string>()
  for (const use of usesOfRows(part) ?? [null]) {
    if (!use?.touched) return null
    for (const name of use.touched) fields.add(name)
  }
  return fields
}

/** What is done with each row; null where more may be done than to read. */
function usesOfRows(part: ts.Node | undefined): RecordUse[] | null {
  const fn = functionOf(part)
  if (!fn) return null
  const [first] = parametersOf(fn)
  if (first && (first.initializer || first.dotDotDotToken || !ts.isObjectBindingPattern(first.name))) return null
  let name: ts.Identifier | null = null
  for (const element of first && ts.isObjectBindingPattern(first.name) ? first.name.elements : []) {
    if (element.dotDotDotToken) return null
    if ((element.propertyName ?? element.name).getText() !== 'rows') continue
    if (!ts.isIdentifier(element.name) || element.initializer) return null
    name = element.name
  }
  const uses: RecordUse[] = []
  let reads = true
  const look = (node: ts.Node): void => {
    if (ts.isIdentifier(node) && (node.text === 'arguments' || node.text === 'eval')) reads = false
    if (name && ts.isIdentifier(node) && node !== name && node.text === name.text && !isPropertyName(node))
      // A function or class within it could be kept, and would see the rows later.
      reads &&= ownerOf(node) === fn && isRead(node, uses)
    ts.forEachChild(node, look)
  }
  look(fn)
  return reads ? uses : null
}

const isPropertyName = (node: ts.Identifier): boolean =>
  (ts.isPropertyAccessExpression(node.parent) && node.parent.name === node) ||
  (ts.isPropertyAssignment(node.parent) && node.parent.name === node)

/** @param uses is added to */
function isRead(list: ts.Node, uses: RecordUse[]): boolean {
  const access = list.parent
  if (ts.isForOfStatement(access) && access.expression === list) return isLoopOfReads(access, uses)
  if (!ts.isPropertyAccessExpression(access) || access.expression !== list) return false
  if (access.name.text === 'length') return true
  const call = access.parent
  if (!LIST.has(access.name.text) || !ts.isCallExpression(call) || call.expression !== access) return false
  const [fn] = call.arguments
  if (call.arguments.length !== 1 || !fn || !ts.isArrowFunction(fn) || parametersOf(fn).length > 2) return false
  if (!addReads(useOf(fn), fn.body, uses)) return false
  // What filter gives back are rows again.
  return access.name.text !== 'filter' || isRead(call, uses)
}

function isLoopOfReads(loop: ts.ForOfStatement, uses: RecordUse[]): boolean {
  const { initializer, statement, awaitModifier } = loop
  // The name of `var` lives on after the loop.
  if (awaitModifier || !ts.isVariableDeclarationList(initializer) || !(initializer.flags & ts.NodeFlags.BlockScoped)) return false
  const [{ name }] = initializer.declarations as unknown as [ts.VariableDeclaration]
  return addReads(
    known(() => new RecordUse(statement, name)),
    statement,
    uses,
  )
}

/** @returns false where more may be done with the row than to read */
function addReads(use: RecordUse | null, body: ts.Node, uses: RecordUse[]): boolean {
  if (use?.fields.size !== 0 || holdsFunction(body)) return false
  uses.push(use)
  return true
}

/** A function made within could be kept, and would see later what it should have seen then. */
const holdsFunction = (node: ts.Node): boolean =>
  runsLater(node) || (ts.forEachChild(node, (child) => holdsFunction(child) || undefined) ?? false)
