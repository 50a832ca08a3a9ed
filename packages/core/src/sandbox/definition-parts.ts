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
  /** The table that it is for; null where the syntax does not show it. */
  table: string | null
  /** What `only` asks, as it is written, in one line; empty without one. */
  guard: string
}

export const NO_PARTS: DefinitionParts = { writes: null, touches: null, loadReads: false, table: null, guard: '' }

export const partsOf = (definition: ts.ObjectLiteralExpression): DefinitionParts => ({
  writes: writesOf(definition),
  touches: touchesOf(definition),
  loadReads: isPlain(definition) && onlyReadsRows(partNamed(definition, 'load')),
  table: tableOf(definition),
  guard: guardOf(definition),
})

function tableOf(definition: ts.ObjectLiteralExpression): string | null {
  const part = partNamed(definition, 'table')
  return part && ts.isPropertyAssignment(part) && ts.isStringLiteralLike(part.initializer) ? part.initializer.text : null
}

/** Longer guards are cut: they are for a reader's eye. */
const GUARD_LENGTH = 120

function guardOf(definition: ts.ObjectLiteralExpression): string {
  const only = partNamed(definition, 'only')
  if (!only) return ''
  const fn = ts.isPropertyAssignment(only) ? only.initializer : only
  const isFn = ts.isArrowFunction(fn) || ts.isFunctionExpression(fn) || ts.isMethodDeclaration(fn)
  const text = (isFn && fn.body ? fn.body : fn).getText().replace(/\s+/g, ' ')
  return text.length > GUARD_LENGTH ? `${text.slice(0, GUARD_LENGTH - 1)}…` : text
}

/** The name of a part, quoted or not; null for one that an expression gives, and for parts that are spread in. */
const nameOf = ({ name }: ts.ObjectLiteralElementLike): string | null =>
  name && (ts.isIdentifier(name) || ts.isStringLiteralLike(name)) ? name.text : null

const partNamed = (definition: ts.ObjectLiteralExpression, name: string): ts.ObjectLiteralElementLike | undefined =>
  definition.properties.find((each) => nameOf(each) === name)

/** Does the syntax show each part once, by its name? */
function isPlain({ properties }: ts.ObjectLiteralExpression): boolean {
  const names = properties.map(nameOf)
  return !names.includes(null) && new Set(names).size === names.length
}

function writesOf(definition: ts.ObjectLiteralExpression): DefinitionParts['writes'] {
  if (!isPlain(definition)) return null
  const only = partNamed(definition, 'only')
  const written = writtenFields(partNamed(definition, 'each'))
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
    const part = partNamed(definition, name)
    const fields = part ? fieldsOf(part) : []
    if (!fields) return null
    for (const field of fields) touched.add(field)
  }
  return touched
}
