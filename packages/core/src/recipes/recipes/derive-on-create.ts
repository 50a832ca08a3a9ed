import { isOptional, isText } from '../accepts.js'
import { answer, answersTo, fieldOf, ownField } from '../answers.js'
import { hookFile, literal } from '../hook-code.js'
import type { Recipe } from '../recipe.js'
import { sample } from '../samples.js'
import { TestCode } from '../test-code.js'

export const deriveOnCreate: Recipe = {
  name: 'derive-on-create',
  title: 'Derive on create',
  description: 'Builds a text from other fields of a new record, unless it was typed.',
  inputs: [
    { name: 'field', label: 'Field to fill', kind: 'field', accepts: (field) => isText(field) && isOptional(field) },
    {
      name: 'from',
      label: 'Built from',
      kind: 'fields',
      accepts: (field, context) => field.name !== answer(context, 'field') && field.type !== 'boolean' && field.link === null,
    },
  ],
  write(request) {
    const { table } = request
    const field = ownField(request, 'field')!
    const parts = answersTo(request, 'from').map((name) => fieldOf(table, name)!)
    const cut = field.maxLength === null ? '' : `.slice(0, ${field.maxLength})`
    const hook = hookFile(`${field.label} of a new record, from its other fields. A typed value stays.`, [
      `table: '${table.name}',`,
      `moment: 'before-save',`,
      `on: ['create'],`,
      `only: (row) => row.now.${field.name} === null,`,
      `each(row) {`,
      `  const parts = [${parts.map(({ name }) => `row.now.${name}`).join(', ')}].filter((part) => part !== null)`,
      `  row.now.${field.name} = parts.length === 0 ? null : parts.join(' ')${cut}`,
      `},`,
    ])
    const values = Object.fromEntries(parts.map((part) => [part.name, literal(sample(part, 0))]))
    const text = parts.map((part) => String(sample(part, 0))).join(' ')
    const typed = literal(sample(field, 0))
    const test = new TestCode(request)
      .record('derived', table.name, values)
      .line(`expect(derived.${field.name}).toBe(${literal(text.slice(0, field.maxLength ?? undefined))})`)
      .record('typed', table.name, { [field.name]: typed })
      .line(`expect(typed.${field.name}).toBe(${typed})`)
    return { hook, test: test.file(`${field.label} is built from other fields unless it is typed`, ['save']) }
  },
}
