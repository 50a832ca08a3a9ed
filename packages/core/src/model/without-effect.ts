import { UNCHECKED_FORMATS } from './table-schema.js'

/** Keywords of a table's JSON Schema that are kept in its file, but mean nothing to a save. */

const SILENT: Record<string, string> = {
  examples: 'examples are shown to nobody',
  deprecated: 'a deprecated field can be used like any other',
  readOnly: 'a hook may refuse what is typed into it; nothing else does',
  writeOnly: 'the field can be read like any other',
}

const isText = (type: unknown): boolean => type === 'string' || (Array.isArray(type) && type.includes('string'))

export interface Silent {
  field: string
  detail: string
}

/** @param text of tables/<table>.json, which can be read as a table */
export function withoutEffect(text: string): Silent[] {
  const { properties } = JSON.parse(text) as { properties: Record<string, Record<string, unknown>> }
  return Object.entries(properties).flatMap(([field, keywords]) =>
    Object.entries(keywords).flatMap(([keyword, value]) => {
      const says =
        keyword === 'format' && !isText(keywords['type'])
          ? 'only a text has a format'
          : keyword === 'format' && UNCHECKED_FORMATS.includes(String(value))
            ? `no value is checked for the format ${String(value)}; a pattern would be`
            : SILENT[keyword]
      return says ? [{ field, detail: `${field}: ${keyword} stays in the file without effect: ${says}.` }] : []
    }),
  )
}
