import type { Project } from '../../model/types.js'
import type { Finding } from '../types.js'
import { slowPattern } from './slow-pattern.js'
import type { TableRule } from './types.js'

/** The rules on tables. A new one gets its own file, added here. */
export const TABLE_RULES: readonly TableRule[] = [slowPattern]

/** @returns findings at the lines of the table files */
export function findInTables(project: Pick<Project, 'tables' | 'files'>): Finding[] {
  const findings: Finding[] = []
  for (const table of project.tables.values())
    for (const field of table.fields)
      for (const rule of TABLE_RULES) {
        const wrong = rule.look(field, table)
        if (!wrong) continue
        const text = project.files.get(table.file) ?? ''
        const place = placeOf(text, field.name, wrong.keyword)
        findings.push({
          rule: rule.meta.name,
          severity: rule.meta.severity,
          message: wrong.message,
          file: table.file,
          hook: '',
          ...place,
          fix: null,
        })
      }
  return findings
}

/** Where the keyword of a field is in a table's JSON; its beginning where it is not found. */
function placeOf(text: string, field: string, keyword: string): Pick<Finding, 'line' | 'column' | 'start' | 'end'> {
  const properties = Math.max(0, text.indexOf('"properties"'))
  const ofField = text.indexOf(JSON.stringify(field), properties)
  const start = Math.max(0, text.indexOf(JSON.stringify(keyword), Math.max(0, ofField)))
  const before = text.slice(0, start).split('\n')
  return { line: before.length, column: before.at(-1)!.length + 1, start, end: start + keyword.length + 2 }
}
