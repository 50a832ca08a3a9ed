import { z } from 'zod'
import { HookError } from '../errors.js'
import { nearest } from './names.js'
import type { Field, Table } from './types.js'
import { boundsProblem, expectedOf, fitsType, gotOf } from './values.js'

/** Reads tables/<table>.json: a JSON Schema 2020-12 object, of which the keywords below are understood. */

const NAME = /^[a-z][A-Za-z0-9_]*$/
const RESERVED = new Set(['constructor', 'prototype', 'hasOwnProperty', 'toString', 'valueOf', 'toJSON', 'then', 'rowid', 'oid'])

const type = z.enum(['string', 'integer', 'number', 'boolean'])
const number = z.number()
const count = z.number().int().nonnegative()

/** Extensions of others (`x-…`) are theirs; one that looks like ours misspelt is an error. */
const OURS = ['x-link', 'x-on-delete', 'x-unique', 'x-index']
const withoutForeign = (value: unknown): unknown =>
  value === null || typeof value !== 'object' || Array.isArray(value)
    ? value
    : Object.fromEntries(
        Object.entries(value).filter(([key]) => !key.startsWith('x-') || OURS.includes(key) || nearest(key, OURS) !== null),
      )

const fieldKeywords = z.strictObject({
  type: z.union([type, z.tuple([type, z.literal('null')]), z.tuple([z.literal('null'), type])]),
  title: z.string().min(1).optional(),
  description: z.string().optional(),
  format: z.string().optional(),
  enum: z
    .array(z.union([z.string(), z.number(), z.null()]))
    .min(1)
    .optional(),
  const: z.union([z.string(), z.number()]).optional(),
  minimum: number.optional(),
  maximum: number.optional(),
  exclusiveMinimum: number.optional(),
  exclusiveMaximum: number.optional(),
  multipleOf: number.positive().optional(),
  minLength: count.optional(),
  maxLength: count.optional(),
  pattern: z.string().optional(),
  default: z.unknown().optional(),
  examples: z.array(z.unknown()).optional(),
  deprecated: z.boolean().optional(),
  readOnly: z.boolean().optional(),
  writeOnly: z.boolean().optional(),
  $comment: z.string().optional(),
  'x-link': z.string().optional(),
  'x-on-delete': z.enum(['refuse', 'clear', 'cascade']).optional(),
  'x-unique': z.boolean().optional(),
  'x-index': z.boolean().optional(),
})

const fieldSchema = z.preprocess(withoutForeign, fieldKeywords)

const tableKeywords = z.strictObject({
  $schema: z.string().optional(),
  $id: z.string().optional(),
  $comment: z.string().optional(),
  title: z.string().min(1).optional(),
  description: z.string().optional(),
  type: z.literal('object'),
  properties: z.record(z.string(), fieldSchema),
  required: z.array(z.string()).optional(),
  additionalProperties: z.boolean().optional(),
  'x-unique': z.array(z.array(z.string()).min(1)).optional(),
})

const tableSchema = z.preprocess(withoutForeign, tableKeywords)

const wrong = (file: string, path: string, detail: string) => new HookError('project/bad-file', { file, path, detail })

/** "seed_estimate" becomes "Seed estimate", for a field that has no title. */
const labelOf = (name: string) => (name.charAt(0).toUpperCase() + name.slice(1)).replace(/_/g, ' ')

export function parseJson(file: string, text: string): unknown {
  try {
    return JSON.parse(text.replace(/^\uFEFF/, ''))
  } catch (error) {
    const detail = (error as Error).message
    const at = /position (\d+)/.exec(detail)
    const line = at ? text.slice(0, Number(at[1])).split('\n').length : undefined
    throw new HookError('project/bad-json', { file, detail, line })
  }
}

export function firstIssue(file: string, error: z.ZodError): HookError {
  const issue = error.issues[0]!
  const path = '/' + issue.path.map(String).join('/')
  const detail =
    issue.code === 'unrecognized_keys'
      ? `${issue.keys.map((key) => `"${key}"`).join(', ')} is not a keyword that is understood here`
      : issue.message
  return wrong(file, path, detail)
}

/** @throws HookError naming the file and the JSON pointer within it. */
export function parseTable(file: string, text: string): Table {
  const name = file.replace(/^.*\//, '').replace(/\.json$/, '')
  const parsed = tableSchema.safeParse(parseJson(file, text))
  if (!parsed.success) throw firstIssue(file, parsed.error)
  const schema = parsed.data
  if (!NAME.test(name) || name.startsWith('ph_') || name.startsWith('sqlite_'))
    throw wrong(
      file,
      '/',
      `"${name}" cannot be a table's name: letters, digits and _ only, a small letter first, not ph_ or sqlite_`,
    )

  const required = new Set(schema.required ?? [])
  const fields: Field[] = []
  const seen = new Map<string, string>()
  for (const [fieldName, source] of Object.entries(schema.properties)) {
    const path = `/properties/${fieldName}`
    const types = Array.isArray(source.type) ? source.type : [source.type]
    const fieldType = types.find((each) => each !== 'null') as Field['type']
    if (fieldName === 'id') {
      if (fieldType !== 'integer') throw wrong(file, path, 'id is always an integer')
      continue
    }
    if (!NAME.test(fieldName) || RESERVED.has(fieldName))
      throw wrong(file, path, `"${fieldName}" cannot be a field's name: letters, digits and _ only, a small letter first`)
    const twin = seen.get(fieldName.toLowerCase())
    if (twin) throw wrong(file, path, `"${fieldName}" and "${twin}" differ only in case`)
    seen.set(fieldName.toLowerCase(), fieldName)
    fields.push(toField(file, path, fieldName, fieldType, source, required.has(fieldName)))
  }
  for (const name of required)
    if (name !== 'id' && !seen.has(name.toLowerCase())) throw wrong(file, '/required', `"${name}" is not among the properties`)
  const uniqueSets = schema['x-unique'] ?? []
  for (const set of uniqueSets)
    for (const name of set)
      if (!fields.some((field) => field.name === name)) throw wrong(file, '/x-unique', `"${name}" is not among the properties`)
  return { name, label: schema.title ?? labelOf(name), help: schema.description ?? '', fields, uniqueSets, file }
}

function toField(
  file: string,
  path: string,
  name: string,
  type: Field['type'],
  source: z.infer<typeof fieldSchema>,
  required: boolean,
): Field {
  const link = source['x-link']
  if (link !== undefined && type !== 'integer')
    throw wrong(file, `${path}/x-link`, 'a link is an integer: it holds the id of a record')
  if (source['x-on-delete'] !== undefined && link === undefined)
    throw wrong(file, `${path}/x-on-delete`, 'only a link (x-link) has x-on-delete')
  if (source['x-on-delete'] === 'clear' && required)
    throw wrong(file, `${path}/x-on-delete`, 'a required link cannot be cleared: use refuse or cascade')
  const choices = source.const !== undefined ? [source.const] : source.enum?.filter((each) => each !== null)
  if (type === 'boolean' && choices)
    throw wrong(file, `${path}/enum`, 'a yes/no field has no choices: take enum out, or make it a text')
  for (const choice of choices ?? []) {
    const fits =
      type === 'string'
        ? typeof choice === 'string'
        : typeof choice === 'number' && (type === 'number' || Number.isSafeInteger(choice))
    if (!fits) throw wrong(file, `${path}/enum`, `${JSON.stringify(choice)} is not of type ${type}`)
  }
  if (source.pattern !== undefined) {
    try {
      new RegExp(source.pattern, 'u')
    } catch (error) {
      throw wrong(file, `${path}/pattern`, (error as Error).message)
    }
  }
  const isDate = type === 'string' && (source.format === 'date' || source.format === 'date-time')
  const field: Field = {
    name,
    label: source.title ?? labelOf(name),
    help: source.description ?? '',
    type,
    format: isDate ? (source.format as 'date' | 'date-time') : null,
    enum: choices ?? null,
    required,
    link: link === undefined ? null : { table: link, onDelete: source['x-on-delete'] ?? 'refuse' },
    unique: source['x-unique'] ?? false,
    index: source['x-index'] ?? false,
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
  return withDefault(file, path, field, source.default)
}

/** The default is held against the field like any value that is saved. */
function withDefault(file: string, path: string, field: Field, given: unknown): Field {
  if (given === undefined || given === null) return field
  if (!fitsType(field, given) || given === null)
    throw wrong(file, `${path}/default`, `the field takes ${expectedOf(field)}, but the default is ${gotOf(given)}`)
  const problem = boundsProblem('', field, given)
  if (problem !== null) throw wrong(file, `${path}/default`, `the default ${problem}`)
  return { ...field, default: given }
}
