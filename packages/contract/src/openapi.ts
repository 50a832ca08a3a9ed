import { z } from 'zod'
import type { Route } from './route.js'
import { ROUTES } from './routes/index.js'
import { errorAnswer } from './shapes/errors.js'

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
  const paths: Record<string, Json> = {}
  const error = lifted(schemaOf(errorAnswer, 'output'), 'error', components)
  for (const [name, route] of Object.entries(ROUTES) as [string, Route][]) {
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
  return {
    openapi: '3.1.0',
    info: { title: 'Patient Hook', version, description: 'Records, saves and rehearsals of one application.' },
    servers: [{ url: '/api' }],
    paths,
    components: { schemas: components },
  }
}
