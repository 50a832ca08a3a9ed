import { z } from 'zod'
import { MOST_FIELDS } from '../limits.js'
import { name } from './values.js'

/** Tables and fields, as they are and as they are edited. */

export const fieldType = z.enum(['string', 'integer', 'number', 'boolean'])
export type FieldType = z.infer<typeof fieldType>
export const format = z.enum(['date', 'date-time'])
export const onDelete = z.enum(['refuse', 'clear', 'cascade'])
export type OnDelete = z.infer<typeof onDelete>
const choices = z.array(z.union([z.string(), z.number()]))

export const field = z.object({
  name: z.string(),
  /** What people call it (`title` of the JSON Schema). */
  label: z.string(),
  help: z.string(),
  type: fieldType,
  format: format.nullable(),
  enum: choices.readonly().nullable(),
  required: z.boolean(),
  link: z.object({ table: z.string(), onDelete }).nullable(),
  unique: z.boolean(),
  index: z.boolean(),
  /** The heading under which forms show it; null for none (`x-group`). */
  group: z.string().nullable(),
  minimum: z.number().nullable(),
  maximum: z.number().nullable(),
  exclusiveMinimum: z.number().nullable(),
  exclusiveMaximum: z.number().nullable(),
  multipleOf: z.number().nullable(),
  minLength: z.number().nullable(),
  maxLength: z.number().nullable(),
  pattern: z.string().nullable(),
  /** The value of a new record without a typed value; null where there is none. */
  default: z.union([z.string(), z.number(), z.boolean()]).nullable(),
})
export type Field = z.infer<typeof field>

export const table = z.object({
  name: z.string(),
  label: z.string(),
  help: z.string(),
  /** In the order of the file, without `id`. */
  fields: z.array(field).readonly(),
  /** Sets of fields that are unique together. */
  uniqueSets: z.array(z.array(z.string()).readonly()).readonly(),
  /** The text field that names a record (`x-title`); null where the first suitable one does. */
  titleField: z.string().nullable(),
  file: z.string(),
})
export type Table = z.infer<typeof table>

/** Keywords of a JSON Schema, by their names. */
const keywords = z.record(z.string().max(200), z.unknown())

/** A field as a form edits it; keywords of its JSON Schema that the form does not know stay. */
export const fieldEdit = z.strictObject({
  /** The field's name before the edit; null for a new one. */
  was: z.string().max(200).nullable(),
  name,
  label: z.string().min(1, 'a field needs a label').max(200),
  help: z.string().max(2000),
  type: fieldType,
  format: format.nullable(),
  enum: z
    .array(z.union([z.string().max(1000), z.number()]))
    .min(1, 'a field with choices needs at least one')
    .max(1000)
    .nullable(),
  link: z.strictObject({ table: name, onDelete }).nullable(),
  required: z.boolean(),
  unique: z.boolean(),
  minimum: z.number().nullable(),
  maximum: z.number().nullable(),
  maxLength: z.number().int().nonnegative().nullable(),
  // A property that is left out stays as it is.
  multipleOf: z.number().positive().nullable().optional(),
  minLength: z.number().int().nonnegative().nullable().optional(),
  pattern: z.string().max(1000).nullable().optional(),
  default: z
    .union([z.string().max(1_000_000), z.number(), z.boolean()])
    .nullable()
    .optional(),
  group: z.string().max(200).nullable().optional(),
  /** Of a field that came out of a file: keywords of its JSON Schema, which stay where the form does not know them. */
  keywords: keywords.optional(),
})
export type FieldEdit = z.infer<typeof fieldEdit>

export const tableEdit = z.strictObject({
  name,
  label: z.string().min(1, 'a table needs a label').max(200),
  help: z.string().max(2000),
  fields: z.array(fieldEdit).max(MOST_FIELDS),
  /** Left out: stays as it is. */
  titleField: z.string().max(200).nullable().optional(),
  /** Of a table that came out of a file: the same of the whole. */
  keywords: keywords.optional(),
})
export type TableEdit = z.infer<typeof tableEdit>

/** A table as it was read out of a file: whether its names and texts will do is shown when it is to be kept. */
export const tableDraft = z.object({
  name: z.string(),
  label: z.string(),
  help: z.string(),
  titleField: z.string().nullable().optional(),
  fields: z.array(
    z.object({
      ...fieldEdit.shape,
      name: z.string(),
      label: z.string(),
      help: z.string(),
      enum: z.array(z.union([z.string(), z.number()])).nullable(),
      link: z.object({ table: z.string(), onDelete }).nullable(),
    }),
  ),
  keywords: keywords.optional(),
})
