import { HOOK_TYPES } from './declared-hooks.js'
import { TEST_TYPES } from './declared-tests.js'
import type { Field, Project, Table } from './types.js'

/**
 * The TypeScript declarations of a project: `patient-hook` and `patient-hook/test`, typed by its tables, so that a wrong
 * field, type or enum value is an error while typing.
 */

function fieldType(field: Field): string {
  const base = field.enum
    ? field.enum.map((choice) => JSON.stringify(choice)).join(' | ')
    : { string: 'string', integer: 'number', number: 'number', boolean: 'boolean' }[field.type]
  return field.required ? base : `${base} | null`
}

function fieldDoc(field: Field): string {
  const parts = [field.label]
  if (field.link) parts.push(`Link to ${field.link.table}.`)
  if (field.format) parts.push(`ISO ${field.format}.`)
  if (field.help) parts.push(field.help)
  return `    /** ${parts.join(' — ').replace(/\*\//g, '* /')} */`
}

function tableType(table: Table): string {
  const fields = table.fields.flatMap((field) => [fieldDoc(field), `    ${field.name}: ${fieldType(field)}`])
  const links = table.fields.filter((field) => field.link).map((field) => `${field.name}: '${field.link!.table}'`)
  return [
    `  /** ${table.label}${table.help ? ' — ' + table.help.replace(/\*\//g, '* /') : ''} */`,
    `  interface ${typeName(table.name)} {`,
    '    /** The record’s id, given by the save. */',
    '    readonly id: number',
    ...fields,
    '  }',
    `  interface ${typeName(table.name)}Links { ${links.join('; ')} }`,
  ].join('\n')
}

const typeName = (table: string) => `T_${table}`
const union = (names: Iterable<string>) => [...names].map((name) => JSON.stringify(name)).join(' | ') || 'never'

/** The text of one `.d.ts` file for the project. */
export function declarations(project: Project): string {
  const tables = [...project.tables.values()]
  const hooks = [...project.plugins.values()].flatMap((plugin) => plugin.hooks.map((hook) => hook.name))
  return `declare module 'patient-hook' {
${tables.map(tableType).join('\n')}
  interface Tables { ${tables.map((table) => `${table.name}: ${typeName(table.name)}`).join('; ')} }
  interface Links { ${tables.map((table) => `${table.name}: ${typeName(table.name)}Links`).join('; ')} }
  type SequenceName = ${union(project.sequences.keys())}
  type UserName = ${project.users.length ? union(project.users.map((user) => user.name)) + ' | (string & {})' : 'string'}
  type HookName = ${hooks.length ? union(hooks) + ' | (string & {})' : 'string'}
  type FixtureSet = ${union(project.fixtures.keys())}
${HOOK_TYPES}
}
declare module 'patient-hook/test' {
  import type { Changes, FixtureSet, HookName, RecordOf, TableName, UserName, Values, Where } from 'patient-hook'
${TEST_TYPES}
}
`
}
