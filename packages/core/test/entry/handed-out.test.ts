import { types } from 'node:util'
import { expect, test } from 'vitest'
import { isEntry } from '../../src/entry/entry.js'
import { sealClass, sealFunctions } from '../../src/harden.js'
import { makeTestApi } from '../../src/prove/test-api.js'
import { nothingCollected } from '../../src/prove/collect.js'
import { testModule } from '../../src/prove/run-tests.js'
import { defineHook } from '../../src/save/hook-definition.js'
import { errorOf } from '../error-of.js'
import { hook, World } from '../world.js'
import { tables } from '../save/parent-child.js'

/** Every function that hook code can get hold of reads its arguments through the gate; nothing is handed out beside it. */

const ofTheLanguage = new Set<unknown>([Object.prototype, Function.prototype, Array.prototype, Map.prototype, Set.prototype])
for (const made of [new Map().keys(), new Set().keys(), [].values()]) ofTheLanguage.add(Object.getPrototypeOf(made))

/** Functions that a value leads to, through properties, accessors and prototypes. */
function reached(value: unknown): Map<string, unknown> {
  const functions = new Map<string, unknown>()
  const seen = new Set<unknown>()
  const look = (at: unknown, path: string): void => {
    if (at === null || (typeof at !== 'object' && typeof at !== 'function') || seen.has(at) || ofTheLanguage.has(at)) return
    if (types.isProxy(at)) return
    seen.add(at)
    if (typeof at === 'function') functions.set(path, at)
    for (const key of Reflect.ownKeys(at)) {
      const property = Object.getOwnPropertyDescriptor(at, key)!
      if ('value' in property) look(property.value, `${path}.${String(key)}`)
      else {
        // What takes no argument cannot be given anything.
        expect(property.set, `${path}.${String(key)} can be set`).toBeUndefined()
        expect(property.get!.length, path).toBe(0)
      }
    }
    look(Object.getPrototypeOf(at), `${path}.[prototype]`)
  }
  look(value, '')
  return functions
}

const world = () =>
  new World({
    tables,
    hooks: {
      before: hook(`{ table: 'child', moment: 'before-save', load: () => {}, each() {} }`),
      after: hook(`{ table: 'child', moment: 'after-save', load: () => {}, each() {}, finish() {} }`),
      last: hook(`{ table: 'child', moment: 'before-commit', each() {} }`),
    },
  })

test('all that hooks are given', () => {
  const w = world()
  const given: unknown[] = []
  for (const each of w.environment.program.hooks) {
    w.environment.program.at(each.table, each.moment)
    for (const part of ['only', 'load', 'each', 'finish'] as const)
      if (each[part])
        Object.assign(each, {
          [part]: (...values: unknown[]) => {
            given.push(...values)
            const { store } = values[0] as { store?: Record<string, (...values: unknown[]) => unknown> }
            if (store)
              given.push(
                store['byId']!('parent', [1]),
                store['children']!('child', 'parent', [1]),
                store['find']!('parent', {}),
                store['rollup']!('child', 'parent', [1], { sum: ['qty'] }),
              )
          },
        })
  }
  w.put('parent', { name: 'x' })
  w.put('child', { parent: 1, qty: 1 })
  const functions = reached(given)
  expect(functions.size).toBeGreaterThan(20)
  for (const [path, made] of functions) expect(isEntry(made as object), path).toBe(true)
  expect([...functions.keys()].filter((path) => /\.(next|update|refuse|byId|get|became)$/.test(path)).length).toBeGreaterThan(5)
})

test('all that modules and tests can import', () => {
  const w = world()
  const collected = nothingCollected()
  const given = [{ defineHook }, testModule(collected), makeTestApi(w.environment, {})]
  const module = given[1] as { expect: (value: unknown) => unknown; test: { each(cases: unknown[]): unknown } }
  const functions = reached([given, module.expect(1), module.test.each([1])])
  for (const [path, made] of functions) expect(isEntry(made as object), path).toBe(true)
  expect([...functions.keys()].some((path) => path.endsWith('.toEqual'))).toBe(true)
})

test('a function that was made beside the gate cannot be handed out', () => {
  expect(() => sealFunctions({ peek: () => 1 })).toThrow('peek is handed to hook code, but is no entry')
  class Open {
    peek() {}
  }
  expect(() => sealClass(Open)).toThrow('peek is handed to hook code, but is no entry')
})

test('what a context hands out is of no use once its hook has ended', () => {
  const w = world()
  const contexts: Record<string, (...values: unknown[]) => unknown>[] = []
  for (const each of w.environment.program.hooks) {
    w.environment.program.at(each.table, each.moment)
    Object.assign(each, { each: (...values: unknown[]) => void contexts.push(values[2] as (typeof contexts)[number]) })
  }
  w.put('child', { qty: 1 })
  expect(contexts).toHaveLength(3)
  for (const context of contexts)
    for (const name of ['next', 'log', 'update', 'create', 'remove', 'send'])
      expect(errorOf(() => context[name]!('child', 1, {})).code, name).toBe('hook/wrong-moment')
})
