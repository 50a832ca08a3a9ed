import { HookError } from '../errors.js'
import type { z } from 'zod'
import { Faults } from './faults.js'
import { JsonFile, type JsonPath } from './json-file.js'
import { hintFor } from './names.js'
import {
  CHECKED_FORMATS,
  fieldKeywords,
  tableKeywords,
  tableSchema,
  UNCHECKED_FORMATS,
  type fieldSchema,
} from './table-schema.js'
import type { Field, Table } from './types.js'
import { boundsProblem, expectedOf, fitsType, gotOf, keptForm } from './values.js'

/** Reads tables/<table>.json: a JSON Schema 2020-12 object. Every fault of the file is reported, each with its line. */

const NAME = /^[a-z][A-Za-z0-9_]*$/
/** What every record has already, in JavaScript or in SQLite. */
export const RESERVED = new Set([
  'constructor',
  'prototype',
  'hasOwnProperty',
  'toString',
  'valueOf',
  'toJSON',
  'then',
  'rowid',
  'oid',
])

/** "seed_estimate" becomes "Seed estimate", for a field that has no title. */
const labelOf = (name: string) => (name.charAt(0).toUpperCase() + name.slice(1)).replace(/_/g, ' ')

export const tableNameOf = (file: string): string => file.replace(/^.*\//, '').replace(/\.json$/, '')

/** Keywords by which a schema is made of others: a field has one type, written where it is. */
const COMPOSED = ['$ref', '$defs', 'definitions', 'anyOf', 'allOf', 'oneOf', 'not', 'if', 'then', 'else']

/** What a schema is made of that has no its own type, told instead of the type that is not there. */
function compositionFaults(json: JsonFile): { faults: HookError[]; paths: Set<string> } {
  const { properties } = (json.value ?? {}) as { properties?: Record<string, unknown> }
  const faults: HookError[] = []
  const paths = new Set<string>()
  const look = (path: JsonPath, schema: unknown, what: string) => {
    if (typeof schema === 'boolean') {
      faults.push(json.wrong(path, `a schema that is ${schema} has no type: give the ${what} a type`))
      paths.add(path.join('/'))
    } else if (schema !== null && typeof schema === 'object')
      for (const key of COMPOSED.filter((each) => Object.hasOwn(schema, each))) {
        faults.push(json.wrong([...path, key], `${key} is not understood here: write the ${what} out, with its type`))
        paths.add(path.join('/'))
      }
  }
  look([], json.value, 'table')
  if (properties !== null && typeof properties === 'object')
    for (const [name, schema] of Object.entries(properties)) look(['properties', name], schema, 'field')
  return { faults, paths }
}

/** What is left to be reported about a schema that is made of others: not that it has no type. */
function untold(issue: z.core.$ZodIssue, within: JsonPath): z.core.$ZodIssue | null {
  if (issue.code !== 'unrecognized_keys')
    return within.length === 0 || ['type', 'properties'].includes(String(within[0])) ? null : issue
  const keys = issue.keys.filter((key) => !COMPOSED.includes(key))
  return keys.length > 0 ? { ...issue, keys } : null
}

const keywordsAt = (path: JsonPath) => Object.keys(path[0] === 'properties' ? fieldKeywords.shape : tableKeywords.shape)

/** @throws HookError project/bad-json or project/bad-file with file, line and JSON pointer; more faults under `others` */
export function parseTable(file: string, text: string): Table {
  const name = tableNameOf(file)
  const json = new JsonFile(file, text)
  const faults = new Faults()
  const composed = compositionFaults(json)
  faults.note(...composed.faults)
  const parsed = tableSchema.safeParse(json.value)
  const wrongFields = new Set<string>()
  for (const issue of parsed.success ? [] : parsed.error.issues) {
    const path = issue.path as JsonPath
    const at = path.length > 1 && path[0] === 'properties' ? path.slice(0, 2) : []
    if (at.length > 0) wrongFields.add(String(at[1]))
    const left = composed.paths.has(at.join('/')) ? untold(issue, path.slice(at.length)) : issue
    if (left) faults.note(...json.faultsOf([left], keywordsAt))
  }
  if (!NAME.test(name) || name.startsWith('ph_') || name.startsWith('sqlite_'))
    faults.note(
      json.wrong([], `"${name}" cannot be a table's name: letters, digits and _ only, a small letter first, not ph_ or sqlite_`),
    )
  const table = parsed.success ? toTable(json, name, parsed.data, faults) : null
  // What is in a file with faults is looked at as far as it can be read.
  if (!table) lookAtFields(json, wrongFields, faults)
  faults.throwIfAny()
  return table!
}

type Source = z.infer<typeof tableSchema>

function toTable(json: JsonFile, name: string, schema: Source, faults: Faults): Table {
  const fields = toFields(json, schema.properties, new Set(schema.required ?? []), faults)
  const has = (field: string) => Object.hasOwn(schema.properties, field)
  for (const [index, each] of (schema.required ?? []).entries())
    if (each !== 'id' && !has(each)) faults.note(json.wrong(['required', index], `"${each}" is not among the properties`))
  const uniqueSets = schema['x-unique'] ?? []
  for (const [index, set] of uniqueSets.entries())
    for (const [at, each] of set.entries())
      if (!has(each)) faults.note(json.wrong(['x-unique', index, at], `"${each}" is not among the properties`))
  const titleField = schema['x-title'] ?? null
  if (titleField !== null && fields.find((field) => field.name === titleField)?.type !== 'string')
    faults.note(json.wrong(['x-title'], `"${titleField}" is not a text field of the table`))
  const label = schema.title ?? labelOf(name)
  return { name, label, help: schema.description ?? '', fields, uniqueSets, titleField, file: json.file }
}

function lookAtFields(json: JsonFile, wrong: ReadonlySet<string>, faults: Faults): void {
  const { properties } = (json.value ?? {}) as { properties?: unknown }
  if (properties === null || typeof properties !== 'object') return
  const readable = Object.fromEntries(Object.entries(properties).filter(([name]) => !wrong.has(name)))
  const parsed = tableSchema.safeParse({ type: 'object', properties: readable })
  if (parsed.success) toFields(json, parsed.data.properties, new Set(), faults)
}

function toFields(json: JsonFile, properties: Source['properties'], required: ReadonlySet<string>, faults: Faults): Field[] {
  const fields: Field[] = []
  const seen = new Map<string, string>()
  for (const [name, source] of Object.entries(properties)) {
    const path = ['properties', name]
    const types = Array.isArray(source.type) ? source.type : [source.type]
    const type = types.find((each) => each !== 'null') as Field['type']
    if (name === 'id') {
      if (type !== 'integer') faults.note(json.wrong(path, 'id is always an integer'))
      continue
    }
    if (RESERVED.has(name))
      faults.note(json.wrong(path, `"${name}" cannot be a field's name: every record has one of that name already`))
    else if (!NAME.test(name))
      faults.note(json.wrong(path, `"${name}" cannot be a field's name: letters, digits and _ only, a small letter first`))
    const twin = seen.get(name.toLowerCase())
    if (twin) faults.note(json.wrong(path, `"${name}" and "${twin}" differ only in case`))
    seen.set(name.toLowerCase(), name)
    const field = faults.attempt(() => toField(json, path, name, type, source, required.has(name)))
    if (field) fields.push(field)
  }
  return fields
}

/** @throws HookError with every fault of the field */
function toField(
  json: JsonFile,
  path: JsonPath,
  name: string,
  type: Field['type'],
  source: z.infer<typeof fieldSchema>,
  required: boolean,
): Field {
  const faults = new Faults()
  const wrong = (keyword: string, detail: string) => faults.note(json.wrong([...path, keyword], detail))
  const link = source['x-link']
  if (link !== undefined && type !== 'integer') wrong('x-link', 'a link is an integer: it holds the id of a record')
  if (source['x-on-delete'] !== undefined && link === undefined) wrong('x-on-delete', 'only a link (x-link) has x-on-delete')
  if (source['x-on-delete'] === 'clear' && required)
    wrong('x-on-delete', 'a required link cannot be cleared: use refuse or cascade')
  const choices = source.const !== undefined ? [source.const] : source.enum?.filter((each) => each !== null)
  if (type === 'boolean' && choices) wrong('enum', 'a yes/no field has no choices: take enum out, or make it a text')
  for (const choice of choices ?? []) {
    const fits =
      type === 'string'
        ? typeof choice === 'string'
        : typeof choice === 'number' && (type === 'number' || Number.isSafeInteger(choice))
    if (!fits) wrong('enum', `${JSON.stringify(choice)} is not of type ${type}`)
  }
  if (source.pattern !== undefined) {
    try {
      new RegExp(source.pattern, 'u')
    } catch (error) {
      wrong('pattern', (error as Error).message)
    }
  }
  const { format } = source
  if (type === 'string' && format !== undefined && ![...CHECKED_FORMATS, ...UNCHECKED_FORMATS].includes(format))
    wrong('format', `there is no format ${JSON.stringify(format)}${hintFor(format, [...CHECKED_FORMATS, ...UNCHECKED_FORMATS])}`)
  const isDate = type === 'string' && (format === 'date' || format === 'date-time')
  const field: Field = {
    name,
    label: source.title ?? labelOf(name),
    help: source.description ?? '',
    type,
    format: isDate ? format : null,
    enum: null,
    required,
    link: link === undefined ? null : { table: link, onDelete: source['x-on-delete'] ?? 'refuse' },
    unique: source['x-unique'] ?? false,
    index: source['x-index'] ?? false,
    group: source['x-group'] ?? null,
    minimum: source.minimum ?? null,
    maximum: source.maximum ?? null,
    exclusiveMinimum: source.exclusiveMinimum ?? null,
    exclusiveMaximum: source.exclusiveMaximum ?? null,
    multipleOf: source.multipleOf ?? null,
    minLength: source.minLength ?? null,
    maxLength: source.maxLength ?? null,
    pattern: source.pattern ?? null,
    default: null,
  }
  faults.throwIfAny()
  const withChoices = choices ? { ...field, enum: choicesOf(field, choices, wrong) } : field
  const whole = withDefault(withChoices, source.default, wrong)
  faults.throwIfAny()
  return whole
}

type Say = (keyword: string, detail: string) => void

/** An enum does not switch off the format: each choice must have it, and is kept in its one form. */
function choicesOf(field: Field, choices: readonly (string | number)[], wrong: Say): (string | number)[] {
  return choices.map((choice) => {
    if (field.format && !fitsType(field, choice)) wrong('enum', `${JSON.stringify(choice)} is not a ${field.format}`)
    return keptForm(field, choice) as string | number
  })
}

/** The default is held against the field like any value that is saved. */
function withDefault(field: Field, given: unknown, wrong: Say): Field {
  if (given === undefined || given === null) return field
  if (!fitsType(field, given) || given === null) {
    wrong('default', `the field takes ${expectedOf(field)}, but the default is ${gotOf(given)}`)
    return field
  }
  const problem = boundsProblem('', field, given)
  if (problem !== null) wrong('default', `the default ${problem}`)
  return { ...field, default: keptForm(field, given) }
}
