import { answer, ownField } from '../answers.js'
import { hookFile } from '../hook-code.js'
import type { Recipe } from '../recipe.js'
import { TestCode } from '../test-code.js'

export const shareWithSiblings: Recipe = {
  name: 'share-with-siblings',
  title: 'Share with siblings',
  description: 'When a field changes, copies its value to the other records that link to the same parent.',
  inputs: [
    { name: 'link', label: 'Link that the siblings share', kind: 'link' },
    {
      name: 'field',
      label: 'Field to share',
      kind: 'field',
      accepts: (field, context) => field.name !== answer(context, 'link') && !field.unique,
    },
  ],
  write(request) {
    const { table } = request
    const [link, field] = [ownField(request, 'link')!, ownField(request, 'field')!]
    const hook = hookFile(`${field.label} of a record goes to the other records of the same ${link.label}, not to itself.`, [
      `table: '${table.name}',`,
      `moment: 'after-save',`,
      `on: ['update'],`,
      `watch: ['${field.name}'],`,
      ...(link.required ? [] : [`only: (row) => row.now.${link.name} !== null,`]),
      `// The siblings that it writes to need not pass the value on again.`,
      `ripples: 'others',`,
      `finish({ rows, update }) {`,
      `  // When several siblings change in one save, the last one counts.`,
      `  const last = new Map(rows.map((row) => [row.now.${link.name}, row]))`,
      `  for (const [parent, row] of last)`,
      `    update('${table.name}', { ${link.name}: parent, id: { not: row.id } }, { ${field.name}: row.now.${field.name} })`,
      `},`,
    ])
    const test = new TestCode(request)
    const [before, after] = [test.value(field, 0), test.value(field, 1)]
    const parent = test.value(link, 0)
    const family = { [link.name]: parent, [field.name]: before }
    test
      .record('changed', table.name, family)
      .record('sibling', table.name, family)
      .record('stranger', table.name, { [link.name]: test.value(link, 1), [field.name]: before })
      .line(`save('${table.name}', { id: changed.id, ${field.name}: ${after} })`)
      .line(`expect(get('${table.name}', sibling.id)?.${field.name}).toBe(${after})`)
      .line(`expect(get('${table.name}', stranger.id)?.${field.name}).toBe(${before})`)
    return { hook, test: test.file(`${field.label} is shared among records of the same ${link.label}`, ['get', 'save']) }
  },
}
