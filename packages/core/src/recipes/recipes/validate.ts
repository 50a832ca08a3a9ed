import { isOptional } from '../accepts.js'
import { answer, ownField, valueOf } from '../answers.js'
import { hookFile, literal } from '../hook-code.js'
import type { Recipe } from '../recipe.js'
import { TestCode } from '../test-code.js'

export const validate: Recipe = {
  name: 'validate',
  title: 'Validate',
  description: 'Refuses a record that lacks a value while another field has a certain value.',
  inputs: [
    { name: 'needs', label: 'Field that must be filled', kind: 'field', accepts: isOptional },
    {
      name: 'when',
      label: 'When this field',
      kind: 'field',
      accepts: (field, context) => field.name !== answer(context, 'needs') && (field.enum !== null || field.type === 'boolean'),
    },
    { name: 'value', label: 'has the value', kind: 'value', of: 'when' },
  ],
  write(request) {
    const { table } = request
    const [needs, when] = [ownField(request, 'needs')!, ownField(request, 'when')!]
    const value = valueOf(when, answer(request, 'value'))!
    const state = `${when.label} is ${typeof value === 'boolean' ? (value ? 'yes' : 'no') : value}`
    const message = `fill in ${needs.label} while ${state}`
    const hook = hookFile(`${needs.label} must be filled while ${state}.`, [
      `table: '${table.name}',`,
      `moment: 'before-save',`,
      `only: (row) => row.now.${when.name} === ${literal(value)},`,
      `each(row) {`,
      `  if (row.now.${needs.name} === null) row.refuse('${needs.name}', ${literal(message)})`,
      `},`,
    ])
    const test = new TestCode(request)
    const filled = test.value(needs, 0)
    const wrong = test.values(table.name, { [needs.name]: 'null', [when.name]: literal(value) })
    test
      .line(`const refused = refusal(() => save('${table.name}', ${wrong}))`)
      .line(`expect(refused.field).toBe('${needs.name}')`)
      .record('good', table.name, { [needs.name]: filled, [when.name]: literal(value) })
      .line(`expect(good.${needs.name}).toBe(${filled})`)
    return { hook, test: test.file(`${needs.label} is required while ${state}`, ['refusal', 'save']) }
  },
}
