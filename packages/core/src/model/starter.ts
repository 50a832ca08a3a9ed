/** A project to begin with: a table, a hook with its tests, a fixture set. It passes check and test, and its tests notice mutations. */

const ITEM_TABLE = `{
  "$schema": "https://json-schema.org/draft/2020-12/schema",
  "type": "object",
  "title": "Item",
  "properties": {
    "name": { "type": "string", "title": "Name", "maxLength": 80 },
    "quantity": { "type": "integer", "title": "Quantity", "minimum": 0 },
    "price": { "type": "number", "title": "Price", "minimum": 0 },
    "total": { "type": "number", "title": "Total", "minimum": 0, "description": "Quantity times price." }
  },
  "required": ["name"]
}
`
const ITEM_TOTAL = `import { defineHook } from 'patient-hook'

/** An item's total, from its quantity and its price; empty while one of them is. */
export default defineHook({
  table: 'item',
  moment: 'before-save',
  watch: ['quantity', 'price'],
  each(row) {
    const { quantity, price } = row.now
    row.now.total = quantity === null || price === null ? null : Math.round(quantity * price * 100) / 100
  },
})
`
const ITEM_TESTS = `import { describe, expect, test } from 'patient-hook/test'

describe('an item’s total', () => {
  test('is quantity times price, to the hundredth', { fixtures: 'base' }, ({ save }) => {
    expect(save('item', { name: 'twine', quantity: 3, price: 1.251 }).total).toBe(3.75)
    expect(save('item', { name: 'twine', quantity: 3, price: 1.252 }).total).toBe(3.76)
    expect(save('item', { id: 1, quantity: 5 }).total).toBe(12.5)
    expect(save('item', { id: 1, price: 3 }).total).toBe(15)
  })

  test('is empty while one of them is', { fixtures: 'base' }, ({ save }) => {
    expect(save('item', { id: 1, quantity: null }).total).toBeNull()
    expect(save('item', { id: 2, price: null }).total).toBeNull()
  })

  test('stays as it is when another field changes', { fixtures: 'base' }, ({ save, ran }) => {
    expect(save('item', { id: 2, name: 'lamp' }).total).toBe(39)
    expect(save('item', { id: 3, name: 'old box' }).total).toBe(5)
    expect(ran('item-total')).toBe(0)
  })
})
`

/** @param name of the project: that of its folder */
export const starterFiles = (name: string): Map<string, string> =>
  new Map([
    ['project.json', `${JSON.stringify({ name, title: name, users: ['owner'] }, null, 2)}\n`],
    ['tables/item.json', ITEM_TABLE],
    [
      'plugins/main/plugin.json',
      `${JSON.stringify({ name: 'main', version: '0.1.0', description: 'The first hooks' }, null, 2)}\n`,
    ],
    ['plugins/main/hooks/item-total.ts', ITEM_TOTAL],
    ['plugins/main/tests/items.test.ts', ITEM_TESTS],
    ['fixtures/base/item.csv', 'id,name,quantity,price,total\n1,rope,4,2.5,10\n2,lantern,2,19.5,39\n3,box,1,4,5\n'],
    ['.gitignore', '.patient-hook/\nreports/\n'],
  ])
