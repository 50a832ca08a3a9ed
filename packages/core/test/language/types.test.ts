import { describe, expect, test } from 'vitest'
import { checkTypes } from '../../src/language/check.js'
import { parseProject } from '../../src/model/project.js'
import { filesOf, hook, integer, link, text } from '../world.js'

/** What the generated types allow and what they find, as the editor and `check` say it. */

const said = (code: string) =>
  checkTypes(
    parseProject(
      filesOf({
        tables: { item: { fields: { name: text, qty: integer } }, part: { fields: { item: link('item'), name: text } } },
        hooks: {
          h: hook(
            `{ table: 'item', moment: 'after-save', load: ({ rows, store }) => ${code}, each(row, loaded) { void row; void loaded } }`,
          ),
        },
      }),
    ),
  ).map(({ message }) => message)

describe('fields of a look-up', () => {
  test.each([
    `store.children('part', 'item', rows.map(row => row.id), ['id'])`,
    `store.byId('item', rows.map(row => row.id), ['id', 'name'])`,
    `store.find('part', {}, { fields: ['id'] }).map(part => part.id)`,
    `store.byId('item', rows.map(row => row.id)).get(1)?.qty`,
  ])('%s', (code) => expect(said(code)).toEqual([]))
  test.each([
    [`store.children('part', 'item', rows.map(row => row.id), ['nmae'])`, /"nmae"/],
    [`store.find('part', {}, { fields: ['id'] }).map(part => part.name)`, /name/],
  ])('%s', (code, message) => expect(said(code).join(' ')).toMatch(message))
})

describe('what is not synchronous', () => {
  test.each([
    ['async () => 1', /^async cannot be used here/],
    ['(() => { for (const x of [Promise]) void x })()', /^Promise cannot be used here/],
  ])('%s is an error while typing', (code, message) => expect(said(code)[0]).toMatch(message))
  test('a field or a text of that name is not', () => {
    expect(said(`({ Promise: 1, async: 2 }).Promise + 'Promise, async, await'.length`)).toEqual([])
  })
})
