import { isOptional } from '../accepts.js'
import { ownField } from '../answers.js'
import { hookFile } from '../hook-code.js'
import type { Recipe } from '../recipe.js'
import { TestCode } from '../test-code.js'

export const clearOnCopy: Recipe = {
  name: 'clear-on-copy',
  title: 'Treat copies differently',
  description: 'Empties a field of records that are copied from another; new records keep what was typed.',
  inputs: [{ name: 'field', label: 'Field to empty', kind: 'field', accepts: (field) => isOptional(field) && !field.unique }],
  write(request) {
    const { table } = request
    const field = ownField(request, 'field')!
    const hook = hookFile(`A record that was copied from another begins without ${field.label}.`, [
      `table: '${table.name}',`,
      `moment: 'before-save',`,
      `on: ['create'],`,
      `only: (row) => row.copiedFrom !== null,`,
      `each(row) {`,
      `  row.now.${field.name} = null`,
      `},`,
    ])
    const test = new TestCode(request)
    const value = test.value(field, 0)
    // Unique values are not copied.
    const own = table.fields
      .filter(({ unique, required }) => unique && required)
      .map((each) => `${each.name}: ${test.value(each, 1)}`)
    const values = own.length === 0 ? '' : `, { ${own.join(', ')} }`
    test
      .record('original', table.name, { [field.name]: value })
      .line(`expect(original.${field.name}).toBe(${value})`)
      .line(`expect(copy('${table.name}', original.id${values}).${field.name}).toBeNull()`)
    return { hook, test: test.file(`a copy begins without ${field.label}`, ['copy', 'save']) }
  },
}
