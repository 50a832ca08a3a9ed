import { isOptional, isText } from '../accepts.js'
import { answer, ownField } from '../answers.js'
import { hookFile, literal } from '../hook-code.js'
import type { Recipe } from '../recipe.js'
import { sample } from '../samples.js'
import { TestCode } from '../test-code.js'

export const number: Recipe = {
  name: 'number',
  title: 'Number',
  description: 'Numbers new records from a sequence, unless a number was typed.',
  inputs: [
    {
      name: 'field',
      label: 'Text field for the number',
      kind: 'field',
      accepts: (field) => isText(field) && isOptional(field),
    },
    { name: 'sequence', label: 'Sequence', kind: 'sequence' },
  ],
  write(request) {
    const { table } = request
    const field = ownField(request, 'field')!
    const typed = literal(sample(field, 0))
    const hook = hookFile('Numbers new records.', [
      `table: '${table.name}',`,
      `moment: 'before-save',`,
      `on: ['create'],`,
      `only: (row) => row.now.${field.name} === null,`,
      `each(row, _, { next }) {`,
      `  row.now.${field.name} = next('${answer(request, 'sequence')}')`,
      `},`,
    ])
    const test = new TestCode(request)
      .record('first', table.name)
      .record('second', table.name)
      .line(`expect(first.${field.name}).not.toBeNull()`)
      .line(`expect(second.${field.name}).not.toBeNull()`)
      .line(`expect(second.${field.name}).not.toBe(first.${field.name})`)
      .record('typed', table.name, { [field.name]: typed })
      .line(`expect(typed.${field.name}).toBe(${typed})`)
    return { hook, test: test.file(`new records are numbered unless ${field.label} is typed`, ['save']) }
  },
}
