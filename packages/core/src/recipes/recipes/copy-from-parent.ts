import { fitsInto, isOptional } from '../accepts.js'
import { answer, fieldOf, ownField, tableAt } from '../answers.js'
import { hookFile, loadByLink } from '../hook-code.js'
import type { Recipe } from '../recipe.js'
import { TestCode } from '../test-code.js'

export const copyFromParent: Recipe = {
  name: 'copy-from-parent',
  title: 'Copy from parent',
  description: 'Fills an empty field of a new record with the value of the record it links to.',
  inputs: [
    { name: 'link', label: 'Link to the parent', kind: 'link' },
    { name: 'from', label: 'Field of the parent', kind: 'parent-field', of: 'link' },
    {
      name: 'to',
      label: 'Field to fill',
      kind: 'field',
      accepts: (field, context) => {
        const from = fieldOf(tableAt(context, 'link'), answer(context, 'from'))
        return isOptional(field) && field.name !== answer(context, 'link') && (from === undefined || fitsInto(from, field))
      },
    },
  ],
  write(request) {
    const { table } = request
    const parent = tableAt(request, 'link')!
    const [link, to] = [ownField(request, 'link')!, ownField(request, 'to')!]
    const from = fieldOf(parent, answer(request, 'from'))!
    const hook = hookFile(`A new record takes ${to.label} from its ${link.label}, unless it was typed.`, [
      `table: '${table.name}',`,
      `moment: 'before-save',`,
      `on: ['create'],`,
      `watch: ['${link.name}'],`,
      loadByLink(parent.name, link.name, [from.name]),
      `each(row, parents) {`,
      `  row.now.${to.name} ??= parents.get(row.now.${link.name})?.${from.name} ?? null`,
      `},`,
    ])
    const test = new TestCode(request)
    const [value, other] = [test.value(from, 0), test.value(to, 1)]
    test
      .record('parent', parent.name, { [from.name]: value })
      .record('copied', table.name, { [link.name]: 'parent.id' })
      .line(`expect(copied.${to.name}).toBe(${value})`)
      .record('typed', table.name, { [link.name]: 'parent.id', [to.name]: other })
      .line(`expect(typed.${to.name}).toBe(${other})`)
    return { hook, test: test.file(`${to.label} comes from ${link.label} unless it is typed`, ['save']) }
  },
}
