import { expect, test } from 'vitest'
import { RESERVED } from '../../src/model/table-file.js'
import { hook, integer, link, text, World } from '../world.js'

/** A field may be called like a word of JavaScript or SQL, or like what every object has. */

// ECMAScript 2024, 12.7.2: reserved words, and those that are reserved in strict code or may not name a binding.
const JAVASCRIPT =
  'await break case catch class const continue debugger default delete do else enum export extends false finally for function if import in instanceof new null return super switch this throw true try typeof var void while with yield let static implements interface package private protected public async get set of eval arguments undefined'
// https://www.sqlite.org/lang_keywords.html
const SQL =
  'abort action add after all alter always analyze and as asc attach autoincrement before begin between by cascade cast check collate column commit conflict constraint create cross current database deferrable deferred desc detach distinct drop each end escape except exclude exclusive exists explain fail filter first following foreign from full generated glob group groups having ignore immediate index indexed initially inner insert intersect into is isnull join key last left like limit match materialized natural no not nothing notnull nulls offset on or order others outer over partition plan pragma preceding primary query raise range recursive references regexp reindex release rename replace restrict returning right rollback row rows savepoint select table temp temporary then ties to transaction trigger unbounded union unique update using vacuum values view virtual when where window without rowid value oid'
const OBJECTS = Object.getOwnPropertyNames(Object.prototype).filter((name) => /^[a-z]/.test(name))
const words = [
  ...new Set([
    ...JAVASCRIPT.split(' '),
    ...SQL.split(' '),
    ...OBJECTS,
    'prototype',
    'length',
    'name',
    'caller',
    'v0',
    'o',
    'raw',
  ]),
].filter((name) => name !== 'id' && !RESERVED.has(name))

test('a table whose fields are all reserved words is saved, changed, copied, looked up and removed', () => {
  const fields = Object.fromEntries(words.map((name, at) => [name, at % 2 ? { ...integer, default: at } : text]))
  const w = new World({
    tables: { constructor: { fields: { ...fields, parent: link('toString', 'clear') } }, toString: { fields: { class: text } } },
    hooks: {
      valueOf: hook(
        `{ table: 'constructor', moment: 'before-save', load: ({ rows, store }) => store.byId('toString', rows.map((row) => row.now.parent)), each(row, found) { row.now.await = found.get(row.now.parent as any)?.class ?? null } }`,
      ),
      hasOwnProperty: hook(
        `{ table: 'toString', moment: 'after-save', each(row, _, { update }) { update('constructor', { parent: row.id }, { class: row.now.class }) } }`,
      ),
    },
  })
  w.put('toString', { class: 'first' })
  const values = Object.fromEntries(words.flatMap((name, at) => (at % 2 ? [] : [[name, `${name}!`]])))
  const [made] = w.put('constructor', { ...values, parent: 1 })
  for (const [at, name] of words.entries())
    expect([name, made![name]]).toEqual([name, name === 'await' ? 'first' : at % 2 ? at : `${name}!`])
  w.put('toString', { id: 1, class: 'second' })
  const [stored] = w.all('constructor')
  expect(stored).toMatchObject({ class: 'second', await: 'second' })
  const { records } = w.run([{ table: 'constructor', copyOf: 1, values: { class: 'c' } }])
  expect(records[0]).toMatchObject({ class: 'c', isPrototypeOf: stored!['isPrototypeOf'], select: stored!['select'] })
  const { rows } = w.run(words.slice(0, 1).map((name) => ({ table: 'constructor', values: { id: 1, [name]: 'other' } })))
  expect(rows[0]!.changes).toHaveLength(1)
  w.run([{ table: 'toString', values: { id: 1 }, remove: true }])
  expect(w.all('constructor')[0]!['parent']).toBeNull()
})
