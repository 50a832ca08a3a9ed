import ts from '#typescript'
import type { Rule } from '../types.js'
import { bare } from '../record-names.js'
import { calleeName, fieldsOf, isLookup, stringOf, walk, namedValues } from '../syntax.js'
import { stringList } from '../uses.js'
import type { Table } from '../../model/types.js'

const plain = (text: string) => text.toLowerCase().replace(/[^a-z0-9]+/g, '')

export const labelForName: Rule = {
  meta: {
    name: 'label-for-name',
    severity: 'error',
    title: 'A field’s label, or its name with a stray blank or comma, where the name is needed',
    why: 'People know a field by its label. A watch list with a label never wakes its hook; a write goes nowhere. Use the name.',
  },
  examples: {
    pass: [`{ table: 'lot', moment: 'before-save', watch: ['net_mass_g'], each(row) { row.now.bay = 'A' } }`],
    fail: [
      `{ table: 'lot', moment: 'before-save', watch: ['Net mass (g)'], each(row) { row.now.bay = 'A' } }`,
      `{ table: 'lot', moment: 'before-save', watch: ['bay ,'], each(row) { row.now.alarm = 'none' } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.refuse('Net mass (g)', 'no') } }`,
      `{ table: 'lot', moment: 'before-save', each(row) { row.now['Net mass (g)'] = 1 } }`,
    ],
  },
  look({ hook, tables, say }) {
    const check = (node: ts.StringLiteralLike | ts.Identifier, table: Table) => {
      if (node.text === 'id' || table.fields.some((field) => field.name === node.text)) return
      const field = table.fields.find((each) => plain(each.label) === plain(node.text) || plain(each.name) === plain(node.text))
      if (!field) return
      const what =
        plain(field.name) === plain(node.text) && node.text.trim().replace(/,$/, '').trim() === field.name
          ? 'has a stray blank or comma'
          : `is the label of ${field.name}`
      say(node, `"${node.text}" ${what}: write '${field.name}'`, {
        title: `Write '${field.name}'`,
        edits: [{ start: node.getStart(), end: node.getEnd(), text: ts.isIdentifier(node) ? field.name : `'${field.name}'` }],
      })
    }
    for (const { node } of hook.watch) check(node, hook.table)
    walk(hook.definition, (node) => {
      if (ts.isElementAccessExpression(node) && ts.isStringLiteralLike(node.argumentExpression))
        check(node.argumentExpression, hook.table)
      if (!ts.isCallExpression(node)) return
      const [first] = node.arguments
      const named = calleeName(node) === 'changed' ? [...node.arguments] : calleeName(node) === 'refuse' && first ? [first] : []
      for (const each of named.map(bare)) if (ts.isStringLiteralLike(each)) check(each, hook.table)
      // Keys of values and conditions. A word that is no field and no label is for TypeScript to say.
      for (const { table, values } of namedValues(node, tables))
        for (const { key, field } of values) if (!field && (ts.isStringLiteral(key) || ts.isIdentifier(key))) check(key, table)
      const table = isLookup(node) ? tables.get(stringOf(first) ?? '') : undefined
      if (table) for (const each of stringList(fieldsOf(node) ?? undefined)) check(each.node, table)
    })
  },
}
