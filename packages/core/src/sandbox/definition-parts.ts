import ts from '#typescript'
import { onlyReadsRows, touchedFields, touchedFieldsOfRows, writtenFields } from './written-fields.js'

/** What the syntax of a literal given to defineHook tells of the hook. */

export interface DefinitionParts {
  /** Fields that `only` and `each` can write; null where that cannot be known. */
  writes: ReadonlySet<string> | null
  /** Fields that the hook's functions can look at or write; null where that cannot be known. */
  touches: ReadonlySet<string> | null
  /** `load` only reads the rows it is given; false where that cannot be known. */
  loadReads: boolean
  /** What `only` asks, as it is written, in one line; empty without one. */
  guard: string
}

export const NO_PARTS: DefinitionParts = { writes: null, touches: null, loadReads: false, guard: '' }

export const partsOf = (definition: ts.ObjectLiteralExpression): DefinitionParts => ({
  writes: writesOf(definition),
  touches: touchesOf(definition),
  loadReads: isPlain(definition) && onlyReadsRows(definition.properties.find((each) => each.name?.getText() === 'load')),
  guard: guardOf(definition),
})

/** Longer guards are cut: they are for a reader's eye. */
const GUARD_LENGTH = 120

function guardOf(definition: ts.ObjectLiteralExpression): string {
  const only = definition.properties.find((each) => each.name && ts.isIdentifier(each.name) && each.name.text === 'only')
  if (!only) return ''
  const fn = ts.isPropertyAssignment(only) ? only.initializer : only
  const isFn = ts.isArrowFunction(fn) || ts.isFunctionExpression(fn) || ts.isMethodDeclaration(fn)
  const text = (isFn && fn.body ? fn.body : fn).getText().replace(/\s+/g, ' ')
  return text.length > GUARD_LENGTH ? `${text.slice(0, GUARD_LENGTH - 1)}…` : text
}

/** Parts that are spread in, or named by an expression, are not what the syntax shows. */
const isPlain = (definition: ts.ObjectLiteralExpression): boolean =>
  !definition.properties.some((each) => ts.isSpreadAssignment(each) || (each.name && ts.isComputedPropertyName(each.name)))

function writesOf(definition: ts.ObjectLiteralExpression): DefinitionParts['writes'] {
  const part = (name: string) => definition.properties.find((each) => each.name?.getText() === name)
  if (!isPlain(definition)) return null
  const only = part('only')
  const written = writtenFields(part('each'))
  if (written === null || (only && writtenFields(only)?.size !== 0)) return null
  return written
}

function touchesOf(definition: ts.ObjectLiteralExpression): DefinitionParts['touches'] {
  if (!isPlain(definition)) return null
  const touched = new Set<string>()
  for (const [name, fieldsOf] of [
    ['only', touchedFields],
    ['load', touchedFieldsOfRows],
    ['each', touchedFields],
    ['finish', touchedFieldsOfRows],
  ] as const) {
    const part = definition.properties.find((each) => each.name?.getText() === name)
    const fields = part ? fieldsOf(part) : []
    if (!fields) return null
    for (const field of fields) touched.add(field)
  }
  return touched
}
