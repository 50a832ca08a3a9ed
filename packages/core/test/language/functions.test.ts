import { expect, test } from 'vitest'
import { serviceOf } from '../../src/language/check.js'
import { exportedFunctions } from '../../src/language/functions.js'
import { parseProject } from '../../src/model/project.js'
import { filesOf, text } from '../world.js'

/** What a module exports, and what inputs its parameters take. */

const FILE = 'plugins/p/lib/m.ts'
function functionsOf(code: string) {
  const project = parseProject(filesOf({ tables: { item: { fields: { name: text } } }, lib: { m: code } }))
  return exportedFunctions(serviceOf(project), FILE)
}
const parameter = (type: string, head = '') => functionsOf(`${head}export function f(x: ${type}) { void x }\n`)[0]!.parameters[0]!

test('functions of every way of writing them, in the order of the file, and nothing else', () => {
  const functions = functionsOf(`
/** Twice the value. */
export function twice(value: number): number { return value * 2 }
export const half = (value: number) => value / 2
const hidden = (value: number) => value
export const limit = 7
export interface Point { x: number }
function named() { return hidden(1) }
export { named as shown }
export default function (text = 'x', ...more: string[]) { return [text, ...more] }
`)
  expect(functions.map(({ name, line, doc, gives }) => [name, line, doc, gives])).toEqual([
    ['twice', 3, 'Twice the value.', 'number'],
    ['half', 4, '', 'number'],
    ['shown', 8, '', 'number'],
    ['default', 10, '', 'string[]'],
  ])
  expect(functions[3]!.parameters).toMatchObject([
    { name: 'text', optional: true, rest: false, shape: { kind: 'text' } },
    { name: 'more', rest: true, shape: { kind: 'list', of: { kind: 'text' } } },
  ])
})

test.each([
  ['number', { kind: 'number', nullable: false }],
  ['string | null', { kind: 'text', nullable: true }],
  ['boolean', { kind: 'boolean' }],
  [`'stored' | 'sent' | null`, { kind: 'choice', choices: ['stored', 'sent'], nullable: true }],
  ['1 | 2', { kind: 'choice', choices: [1, 2] }],
  ['readonly (number | null)[]', { kind: 'list', of: { kind: 'number', nullable: true } }],
  ['{ mass: number; note?: string }', { kind: 'record', fields: [{ name: 'mass' }, { name: 'note', optional: true }] }],
  ['ReadonlyMap<number, { mass: number }>', { kind: 'map', key: { kind: 'number' }, of: { kind: 'record' } }],
  ['Set<string>', { kind: 'set', of: { kind: 'text' } }],
  ['Record<string, number>', { kind: 'json' }],
  ['[number, string]', { kind: 'json' }],
  ['number | string', { kind: 'json' }],
  ['unknown', { kind: 'json' }],
  ['(value: number) => number', { kind: 'none' }],
  ['Date', { kind: 'none' }],
])('a parameter that takes %s', (type, shape) => {
  expect(parameter(type).shape).toMatchObject(shape)
})

test('a record of a table, as hooks hand it on', () => {
  const { shape } = parameter(`{ name: string | null; id: number }[]`)
  expect(shape).toMatchObject({ kind: 'list', of: { kind: 'record', fields: [{ name: 'name' }, { name: 'id' }] } })
})

test('a type that holds itself ends in JSON', () => {
  const { shape } = parameter('Tree', 'interface Tree { left: Tree | null; value: number }\n')
  expect(JSON.stringify(shape)).toContain('"kind":"json"')
})
