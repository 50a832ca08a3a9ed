import { z } from 'zod'
import type { Route } from './route.js'
import { ROUTES } from './routes/index.js'
import { V1_ROUTES } from './routes/v1.js'
import { errorAnswer } from './shapes/errors.js'
import type { Field, Table } from './shapes/tables.js'

/** The routes as an OpenAPI 3.1 document (OpenAPI Specification 3.1.0; its schemas are JSON Schema 2020-12). */

type Json = Record<string, unknown>

/** @param io `input` for what a caller gives, `output` for what it gets */
function schemaOf(schema: z.ZodType, io: 'input' | 'output'): Json {
  const { $schema: _, ...made } = z.toJSONSchema(schema, { io, unrepresentable: 'any', reused: 'inline', cycles: 'ref' }) as Json
  return made
}

/** Definitions of a schema move to the document's components, where every reference finds them. */
function lifted(made: Json, prefix: string, components: Json): Json {
  const { $defs, ...schema } = made as { $defs?: Json }
  /** Named shapes are the same wherever they stand. */
  const nameOf = (name: string) => (name.startsWith('__') ? `${prefix}_${name.replace(/^_+/, '')}` : name)
  const rename = (node: unknown): unknown => {
    if (Array.isArray(node)) return node.map(rename)
    if (node === null || typeof node !== 'object') return node
    return Object.fromEntries(
      Object.entries(node).map(([key, each]) => [
        key,
        key === '$ref' && typeof each === 'string'
          ? each === '#'
            ? `#/components/schemas/${prefix}`
            : `#/components/schemas/${nameOf(each.slice('#/$defs/'.length))}`
          : rename(each),
      ]),
    )
  }
  for (const [name, each] of Object.entries($defs ?? {})) components[nameOf(name)] = rename(each)
  const renamed = rename(schema) as Json
  if (JSON.stringify(schema).includes('"$ref":"#"')) {
    components[prefix] = renamed
    return { $ref: `#/components/schemas/${prefix}` }
  }
  return renamed
}

function parametersOf(schema: z.ZodObject | undefined, place: 'path' | 'query'): Json[] {
  if (!schema) return []
  const made = schemaOf(schema, 'input') as { properties?: Json; required?: string[] }
  return Object.entries(made.properties ?? {}).map(([name, each]) => ({
    name,
    in: place,
    required: place === 'path' || (made.required ?? []).includes(name),
    schema: each,
  }))
}

export function openApi(version: string): Json {
  const components: Json = {}
  return {
    openapi: '3.1.0',
    info: { title: 'Patient Hook', version, description: 'Records, saves and rehearsals of one application.' },
    servers: [{ url: '/api' }],
    paths: pathsOf(ROUTES, components),
    components: { schemas: components },
  }
}

function pathsOf(routes: Readonly<Record<string, unknown>>, components: Json): Record<string, Json> {
  const paths: Record<string, Json> = {}
  const error = lifted(schemaOf(errorAnswer, 'output'), 'error', components)
  for (const [name, route] of Object.entries(routes) as [string, Route][]) {
    const { method, path, summary, params, query, body, answer, status = 200, events } = route
    const shape = lifted(schemaOf(answer, 'output'), `${name}_answer`, components)
    const address = path.replace(/:(\w+)/g, '{$1}')
    const parameters = [...parametersOf(params, 'path'), ...parametersOf(query, 'query')]
    const operation: Json = {
      operationId: name,
      summary,
      ...(parameters.length > 0 ? { parameters } : {}),
      ...(body
        ? {
            requestBody: {
              required: true,
              content: { 'application/json': { schema: lifted(schemaOf(body, 'input'), `${name}_body`, components) } },
            },
          }
        : {}),
      responses: {
        [String(status)]: {
          description: summary,
          content: { [events ? 'text/event-stream' : 'application/json']: { schema: shape } },
        },
        default: { description: 'What happened, where, and what to do.', content: { 'application/json': { schema: error } } },
      },
    }
    paths[address] = { ...paths[address], [method.toLowerCase()]: operation }
  }
  return paths
}

const FIELD_TYPES = { string: 'string', integer: 'integer', number: 'number', boolean: 'boolean' } as const

/** What a field holds, as JSON Schema; a field that is not required may be null. */
function fieldSchema({ type, format, enum: choices, label, help, required, link }: Field): Json {
  const plain = FIELD_TYPES[type]
  return {
    ...(choices ? { enum: required ? choices : [...choices, null] } : { type: required ? plain : [plain, 'null'] }),
    ...(format === null ? {} : { format }),
    title: label,
    ...(help || link
      ? { description: [help, link ? `The id of a record of ${link.table}.` : ''].filter(Boolean).join(' ') }
      : {}),
  }
}

/** The way in for other programs, with a schema for the records of each table and for the rows of a save of it. */
export function openApiV1(version: string, tables: readonly Table[]): Json {
  const components: Json = {}
  const paths = pathsOf(V1_ROUTES, components)
  for (const table of tables) {
    const properties = Object.fromEntries(table.fields.map((field) => [field.name, fieldSchema(field)]))
    components[`record_${table.name}`] = {
      type: 'object',
      title: table.label,
      properties: { id: { type: 'integer' }, ...properties },
      required: ['id', ...table.fields.map(({ name }) => name)],
      additionalProperties: false,
    }
    components[`row_${table.name}`] = {
      type: 'object',
      title: `A row of ${table.label} to be saved`,
      properties: {
        table: { type: 'string', const: table.name },
        id: { type: 'integer' },
        values: {
          type: 'object',
          properties: Object.fromEntries(
            table.fields.map((field) => [field.name, field.link ? { anyOf: [fieldSchema(field), REF] } : fieldSchema(field)]),
          ),
          additionalProperties: false,
        },
        expect: { type: 'object', properties, additionalProperties: false },
        as: { type: 'string' },
        copyOf: { type: 'integer' },
        remove: { type: 'boolean' },
      },
      required: ['table'],
      additionalProperties: false,
    }
  }
  if (tables.length > 0) {
    const rows = { type: 'array', minItems: 1, items: { anyOf: tables.map(({ name }) => referTo(`row_${name}`)) } }
    for (const route of ['save', 'rehearse']) {
      const body = bodyOf(paths, route)
      body['properties'] = { ...(body['properties'] as Json), rows }
    }
  }
  const save = paths['/saves']!['post'] as Json
  save['parameters'] = [
    {
      name: 'Idempotency-Key',
      in: 'header',
      required: false,
      description: 'A name for this save, such as a UUID: asked for again with it, it is not done again.',
      schema: { type: 'string', minLength: 1, maxLength: 200 },
    },
  ]
  return {
    openapi: '3.1.0',
    info: { title: 'Patient Hook', version, description: 'Records and saves of one application, for other programs.' },
    servers: [{ url: '/api/v1' }],
    security: [{ key: [] }],
    paths,
    components: { schemas: components, securitySchemes: { key: { type: 'http', scheme: 'bearer' } } },
  }
}

const REF: Json = { type: 'object', properties: { ref: { type: 'string' } }, required: ['ref'], additionalProperties: false }
const referTo = (name: string): Json => ({ $ref: `#/components/schemas/${name}` })

/** The schema of what an operation takes. */
function bodyOf(paths: Record<string, Json>, operation: string): Json {
  for (const methods of Object.values(paths))
    for (const each of Object.values(methods) as {
      operationId: string
      requestBody?: { content: Record<string, { schema: Json }> }
    }[])
      if (each.operationId === operation && each.requestBody) return each.requestBody.content['application/json']!.schema
  throw new Error(`no operation ${operation} takes a body`)
}
