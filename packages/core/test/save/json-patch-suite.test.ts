import { createRequire } from 'node:module'
import jsonpatch, { type Operation } from 'fast-json-patch'
import { describe, expect, test } from 'vitest'
import { patchOf } from '../../src/save/history.js'
import { shapeOf } from '../../src/store/shape.js'
import { integer, text, World } from '../world.js'

/**
 * The history's patches are RFC 6902. We only write them: they are applied by fast-json-patch, which is held against the json-patch test
 * suite (its RFC examples and its cases) before it is believed.
 */

interface Case {
  comment?: string
  doc: unknown
  patch: Operation[]
  expected?: unknown
  error?: string
  disabled?: boolean
}
const require = createRequire(import.meta.url)
const cases = ['spec_tests.json', 'tests.json'].flatMap((file) => require(`json-patch-test-suite/${file}`) as Case[])
const apply = (doc: unknown, patch: Operation[]) =>
  jsonpatch.applyPatch(structuredClone(doc), structuredClone(patch), true).newDocument as unknown

describe('the suite', () => {
  const sound = cases.filter((each) => !each.disabled && each.error === undefined && each.expected !== undefined)
  test('is there', () => expect(sound.length).toBeGreaterThan(50))
  test.each(sound.map((each, index) => [`${index} ${each.comment ?? ''}`, each] as const))(
    '%s',
    (_, { doc, patch, expected }) => {
      expect(apply(doc, patch)).toEqual(expected)
    },
  )
})

test('a record’s patches apply from its first to its last, and none on another state', () => {
  const world = new World({ tables: { item: { fields: { name: text, qty: integer } } } })
  const shape = shapeOf(world.environment.project.tables.get('item')!)
  const states = [
    null,
    { id: 1, name: 'a', qty: null },
    { id: 1, name: 'a/b~c "d"', qty: 1 },
    { id: 1, name: null, qty: 1 },
    { id: 1, name: '', qty: 0 },
    null,
  ]
  let doc: unknown = null
  states.slice(1).forEach((now, index) => {
    const patch = JSON.parse(patchOf(shape, { was: states[index]!, now })) as Operation[]
    if (index > 0) expect(() => apply({ id: 1, name: 'other', qty: 99 }, patch)).toThrow()
    doc = apply(doc, patch)
    expect(doc).toEqual(now)
  })
})
