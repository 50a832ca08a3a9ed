import type { FieldEdit, TableEdit } from '@patient-hook/contract'
import { textRevision } from '@patient-hook/contract/text-revision'
import type { Field, Table } from './types.js'

/**
 * A table as it is edited: what a form can change of it. Written back, it changes only what was edited of the JSON Schema;
 * keywords that the form does not know stay.
 */

export type { FieldEdit, TableEdit } from '@patient-hook/contract'

export function editOf(table: Table): TableEdit {
  const { name, label, help, titleField } = table
  return { name, label, help, titleField, fields: table.fields.map(fieldEditOf) }
}

/** Tells one state of a table from another. */
export const revisionOf = (table: Table): string => textRevision(JSON.stringify(table))

function fieldEditOf(field: Field): FieldEdit {
  const { name, label, help, type, format, link, required, unique, group } = field
  const { minimum, maximum, multipleOf, minLength, maxLength, pattern } = field
  const choices = field.enum ? [...field.enum] : null
  return {
    was: name,
    name,
    label,
    help,
    type,
    format,
    enum: choices,
    link: link && { ...link },
    required,
    unique,
    minimum,
    maximum,
    multipleOf,
    minLength,
    maxLength,
    pattern,
    default: field.default,
    group,
  }
}

export const newField = (name: string, label: string): FieldEdit => ({
  was: null,
  name,
  label,
  help: '',
  type: 'string',
  format: null,
  enum: null,
  link: null,
  required: false,
  unique: false,
  minimum: null,
  maximum: null,
  multipleOf: null,
  minLength: null,
  maxLength: null,
  pattern: null,
  default: null,
  group: null,
})

/** A table out of a JSON Schema, to be corrected before it is made: with every keyword that the schema has. */
export function editOfSchema(table: Table, schema: object): TableEdit {
  const { properties, required: _, ...keywords } = schema as { properties: Record<string, Json>; required?: unknown }
  const { fields, ...edit } = editOf(table)
  return { ...edit, fields: fields.map((field) => ({ ...field, was: null, keywords: properties[field.name]! })), keywords }
}

/** Renamed fields, old name to new. */
export const renamesOf = (edit: TableEdit): Record<string, string> =>
  Object.fromEntries(
    edit.fields.filter((each) => each.was !== null && each.was !== each.name).map((each) => [each.was!, each.name]),
  )

type Json = Record<string, unknown>

/** The text of tables/<name>.json. @param before its text before the edit, null for a new table */
export function tableText(edit: TableEdit, before: string | null): string {
  const old = (before === null ? (edit.keywords ?? {}) : JSON.parse(before)) as Json & {
    properties?: Record<string, Json>
    required?: string[]
  }
  const properties: Record<string, Json> = { id: old.properties?.['id'] ?? { type: 'integer' } }
  for (const field of edit.fields)
    properties[field.name] = property(field, field.was === null ? (field.keywords ?? {}) : (old.properties?.[field.was] ?? {}))
  const required = [
    ...(old.required ?? []).filter((name) => name === 'id'),
    ...edit.fields.filter((field) => field.required).map((field) => field.name),
  ]
  const title = edit.titleField === undefined ? (old['x-title'] as string | undefined) : edit.titleField
  const titleField = title && (renamesOf(edit)[title] ?? title)
  const sets = uniqueSets(edit, old).filter((set) => set.every((name) => properties[name]))
  const schema: Json = {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    ...old,
    title: edit.label,
    description: edit.help === '' ? undefined : edit.help,
    type: 'object',
    properties,
    required: required.length > 0 ? required : undefined,
    'x-unique': sets.length > 0 ? sets : undefined,
    'x-title': titleField && properties[titleField] ? titleField : undefined,
  }
  return JSON.stringify(schema, null, 2) + '\n'
}

/** The sets of fields that are unique together, by their names after the edit. */
function uniqueSets(edit: TableEdit, old: Json): string[][] {
  const renames = renamesOf(edit)
  return ((old['x-unique'] ?? []) as string[][]).map((set) => set.map((name) => renames[name] ?? name))
}

/** The sets that are unique together no more, since the edit leaves one of their fields out. @param before as for tableText */
export function lostSets(edit: TableEdit, before: string | null): { set: string[]; without: string }[] {
  const old = (before === null ? (edit.keywords ?? {}) : JSON.parse(before)) as Json
  return uniqueSets(edit, old).flatMap((set) => {
    const without = set.find((name) => !edit.fields.some((field) => field.name === name))
    return without === undefined ? [] : [{ set, without }]
  })
}

const TEXT_ONLY = ['minLength', 'maxLength', 'pattern', 'format']
const NUMBER_ONLY = ['minimum', 'maximum', 'exclusiveMinimum', 'exclusiveMaximum', 'multipleOf']

function property(field: FieldEdit, old: Json): Json {
  const types: unknown[] = Array.isArray(old['type']) ? (old['type'] as unknown[]) : [old['type']]
  // Of another type, what was said of the one before means nothing.
  const foreign = types.includes(field.type)
    ? []
    : field.type === 'string'
      ? NUMBER_ONLY
      : field.type === 'boolean'
        ? [...NUMBER_ONLY, ...TEXT_ONLY]
        : TEXT_ONLY
  const kept = Object.fromEntries(Object.entries(old).filter(([key]) => !foreign.includes(key)))
  const nullable = Array.isArray(old['type']) && old['type'].includes('null')
  /** A property that the edit leaves out stays; null removes it. */
  const edited = (keyword: string, value: unknown): unknown => (value === undefined ? kept[keyword] : (value ?? undefined))
  const number = field.type === 'integer' || field.type === 'number'
  const keywords: Json = {
    ...kept,
    type: nullable ? (old['type'] as string[]).map((each) => (each === 'null' ? each : field.type)) : field.type,
    title: field.label,
    description: field.help === '' ? undefined : field.help,
    format:
      field.format ??
      (field.type !== 'string' || (kept['format'] !== 'date' && kept['format'] !== 'date-time') ? kept['format'] : undefined),
    const: undefined,
    enum: field.enum && !field.link ? [...field.enum, ...(nullable ? [null] : [])] : undefined,
    minimum: number && !field.link ? (field.minimum ?? undefined) : undefined,
    maximum: number && !field.link ? (field.maximum ?? undefined) : undefined,
    multipleOf: number && !field.link ? edited('multipleOf', field.multipleOf) : undefined,
    minLength: field.type === 'string' ? edited('minLength', field.minLength) : undefined,
    maxLength: field.type === 'string' ? (field.maxLength ?? undefined) : undefined,
    pattern: field.type === 'string' ? edited('pattern', field.pattern) : undefined,
    default: edited('default', field.default),
    'x-group': edited('x-group', field.group),
    'x-link': field.link?.table,
    'x-on-delete': field.link && field.link.onDelete !== 'refuse' ? field.link.onDelete : undefined,
    'x-unique': field.unique ? true : undefined,
  }
  // JSON.stringify leaves out what is undefined; an object that is compared should not have it either.
  return Object.fromEntries(Object.entries(keywords).filter(([, value]) => value !== undefined))
}

/** "Gross mass (g)" becomes gross_mass_g; a name that is taken gets a number. */
export function fieldNameFrom(label: string, taken: ReadonlySet<string>): string {
  const plain = label
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '')
    .slice(0, 60)
  const base = /^[a-z]/.test(plain) ? plain : `f_${plain}`.replace(/_$/, '')
  let name = base === 'id' ? 'other_id' : base
  for (let n = 2; taken.has(name); n++) name = `${base}_${n}`
  return name
}
