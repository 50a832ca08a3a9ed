import type { Value } from '../model/types.js'

/** A value as TypeScript writes it. */
export const literal = (value: Value): string =>
  typeof value === 'string' ? `'${value.replace(/\\/g, '\\\\').replace(/'/g, "\\'").replace(/\n/g, '\\n')}'` : String(value)

export const list = (names: readonly string[]): string => `[${names.map(literal).join(', ')}]`

/** The file of a hook. @param parts lines of the definition, not indented */
export function hookFile(comment: string, parts: readonly string[]): string {
  const body = parts
    .join('\n')
    .split('\n')
    .map((line) => (line === '' ? '' : `  ${line}`))
    .join('\n')
  const doc = `/** ${comment.replace(/\*\//g, '* /')} */`
  return `import { defineHook } from 'patient-hook'\n\n${doc}\nexport default defineHook({\n${body}\n})\n`
}

/** The part `load` that looks up records by a link. */
export const loadByLink = (table: string, link: string, fields: readonly string[]): string =>
  `load: ({ rows, store }) =>
  store.byId(
    '${table}',
    rows.map((row) => row.now.${link}),
    ${list(fields)},
  ),`
