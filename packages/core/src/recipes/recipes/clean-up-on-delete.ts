import { answer, tableAt } from '../answers.js'
import { hookFile } from '../hook-code.js'
import type { Recipe } from '../recipe.js'
import { TestCode } from '../test-code.js'

export const cleanUpOnDelete: Recipe = {
  name: 'clean-up-on-delete',
  title: 'Clean up on delete',
  description: 'Removes the records that link to a record when it is removed.',
  inputs: [
    {
      name: 'children',
      label: 'Records to remove with it',
      kind: 'children',
      // The link itself removes them, without any hook.
      accepts: (field) => field.link?.onDelete !== 'cascade',
    },
  ],
  write(request) {
    const { table } = request
    const child = tableAt(request, 'children')!
    const link = answer(request, 'children').split('.')[1]!
    const hook = hookFile(`When a record is removed, every ${child.label} that links to it goes too.`, [
      `table: '${table.name}',`,
      `moment: 'after-save',`,
      `on: ['delete'],`,
      `each(row, _, { remove }) {`,
      `  remove('${child.name}', { ${link}: row.id })`,
      `},`,
    ])
    const test = new TestCode(request)
      .record('parent', table.name)
      .record('child', child.name, { [link]: 'parent.id' })
      .line(`remove('${table.name}', parent.id)`)
      .line(`expect(get('${child.name}', child.id)).toBeNull()`)
    return { hook, test: test.file('records that link to it are removed with it', ['get', 'remove', 'save']) }
  },
}
