import { isOptional } from '../accepts.js'
import { answer, ownField, valueOf } from '../answers.js'
import { hookFile, literal } from '../hook-code.js'
import type { Recipe } from '../recipe.js'
import { sample } from '../samples.js'
import { TestCode } from '../test-code.js'

export const defaultWhenEmpty: Recipe = {
  name: 'default-when-empty',
  title: 'Default when empty',
  description: 'Gives a field a value whenever a record is saved with the field empty.',
  inputs: [
    {
      name: 'field',
      label: 'Field',
      kind: 'field',
      accepts: (field) => isOptional(field) && field.link === null && !field.unique,
    },
    { name: 'value', label: 'Value', kind: 'value', of: 'field' },
  ],
  write(request) {
    const { table } = request
    const field = ownField(request, 'field')!
    const value = valueOf(field, answer(request, 'value'))!
    const other = [0, 1, 2].map((n) => sample(field, n)).find((each) => each !== value && each !== null) ?? value
    const hook = hookFile(`${field.label} is ${String(value)} unless it is set.`, [
      `table: '${table.name}',`,
      `moment: 'before-save',`,
      `each(row) {`,
      `  row.now.${field.name} ??= ${literal(value)}`,
      `},`,
    ])
    const test = new TestCode(request)
      .record('empty', table.name, { [field.name]: 'null' })
      .line(`expect(empty.${field.name}).toBe(${literal(value)})`)
      .record('set', table.name, { [field.name]: literal(other) })
      .line(`expect(set.${field.name}).toBe(${literal(other)})`)
      .line(`expect(save('${table.name}', { id: set.id, ${field.name}: null }).${field.name}).toBe(${literal(value)})`)
    return { hook, test: test.file(`${field.label} gets its default when it is empty`, ['save']) }
  },
}
