import { z } from 'zod'
import { nearest } from './names.js'

/** The keywords of JSON Schema 2020-12 that are understood in tables/<table>.json. */

const type = z.enum(['string', 'integer', 'number', 'boolean'])
const number = z.number()
const count = z.number().int().nonnegative()

/** Extensions of others (`x-…`) are theirs; one that looks like ours misspelt is an error. */
const OURS = ['x-link', 'x-on-delete', 'x-unique', 'x-index', 'x-group', 'x-title']
const withoutForeign = (value: unknown): unknown =>
  value === null || typeof value !== 'object' || Array.isArray(value)
    ? value
    : Object.fromEntries(
        Object.entries(value).filter(([key]) => !key.startsWith('x-') || OURS.includes(key) || nearest(key, OURS) !== null),
      )

export const fieldKeywords = z.strictObject({
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
  'x-group': z.string().min(1).optional(),
})

export const fieldSchema = z.preprocess(withoutForeign, fieldKeywords)

export const tableKeywords = z.strictObject({
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
  'x-title': z.string().optional(),
})

export const tableSchema = z.preprocess(withoutForeign, tableKeywords)

/** Formats of JSON Schema that no check is made for: they say what a text means (2020-12, Validation 7.3). */
export const UNCHECKED_FORMATS = [
  'time',
  'duration',
  'email',
  'idn-email',
  'hostname',
  'idn-hostname',
  'ipv4',
  'ipv6',
  'uri',
  'uri-reference',
  'iri',
  'iri-reference',
  'uuid',
  'uri-template',
  'json-pointer',
  'relative-json-pointer',
  'regex',
]
export const CHECKED_FORMATS = ['date', 'date-time'] as const
