import { fitsInto } from '../accepts.js'
import { answer, fieldOf, ownField, tableAt } from '../answers.js'
import { hookFile } from '../hook-code.js'
import type { Recipe } from '../recipe.js'
import { TestCode } from '../test-code.js'

export const pushToChildren: Recipe = {
  name: 'push-to-children',
  title: 'Push to children',
  description: 'When a field changes, copies its value to all records that link to this one.',
  inputs: [
    { name: 'field', label: 'Field that changes', kind: 'field' },
    { name: 'children', label: 'Children', kind: 'children' },
    {
      name: 'to',
      label: 'Field of the children',
      kind: 'child-field',
      of: 'children',
      accepts: (field, context) => {
        const from = ownField(context, 'field')
        const isLink = field.name === answer(context, 'children').split('.')[1]
        return !isLink && !field.unique && from !== undefined && fitsInto(from, field) && (from.required || !field.required)
      },
    },
  ],
  write(request) {
    const { table } = request
    const field = ownField(request, 'field')!
    const child = tableAt(request, 'children')!
    const link = answer(request, 'children').split('.')[1]!
    const to = fieldOf(child, answer(request, 'to'))!
    const hook = hookFile(`When ${field.label} changes, ${to.label} of every ${child.label} that links here follows.`, [
      `table: '${table.name}',`,
      `moment: 'after-save',`,
      `on: ['update'],`,
      `watch: ['${field.name}'],`,
      `each(row, _, { update }) {`,
      `  update('${child.name}', { ${link}: row.id }, { ${to.name}: row.now.${field.name} })`,
      `},`,
    ])
    const test = new TestCode(request)
    const [before, after] = [test.value(field, 0), test.value(field, 1)]
    test
      .record('parent', table.name, { [field.name]: before })
      .record('child', child.name, { [link]: 'parent.id' })
      .record('other', child.name, { ...(fieldOf(child, link)!.required ? {} : { [link]: 'null' }), [to.name]: before })
      .line(`save('${table.name}', { id: parent.id, ${field.name}: ${after} })`)
      .line(`expect(get('${child.name}', child.id)?.${to.name}).toBe(${after})`)
      .line(`expect(get('${child.name}', other.id)?.${to.name}).toBe(${before})`)
    return { hook, test: test.file(`${to.label} of the children follows ${field.label}`, ['get', 'save']) }
  },
}
