import { describe, expect, test } from 'vitest'
import { HookError } from '../../src/errors.js'
import { Meter } from '../../src/sandbox/meter.js'
import { Sandbox } from '../../src/sandbox/sandbox.js'

/** Where an error came from, in the text that somebody wrote: the place of `new Error`, whatever was put in or blanked before it on its line. */

const FILE = 'plugins/p/lib/x.ts'
const probe = { at: () => {}, turn: () => {}, value: <T>(_place: number, _name: string, value: T) => value }

const equipped = {
  plain: {},
  probed: { probe },
  counted: { counted: true },
}

function placeOf(text: string, options: (typeof equipped)[keyof typeof equipped]) {
  const sandbox = new Sandbox({
    read: (file) => (file === FILE ? text : undefined),
    builtins: {},
    meter: new Meter(),
    ...options,
  })
  try {
    const { exports } = sandbox.load(FILE)
    ;(exports as { f(): void }).f()
  } catch (error) {
    const { code, file, line, column } = (HookError.is(error) ? error : sandbox.toHookError(error, {})).report
    return { code, file, line, column }
  }
  return expect.fail('nothing was thrown')
}

const TEXTS: Readonly<Record<string, string>> = {
  'on its own line': `export function f(): never {\n  throw new Error('x')\n}`,
  'on the first line': `export const f = (): never => { throw new Error('x') }`,
  'after types, assertions and calls': `const g = <T,>(x: T): T => x\nexport function f(a?: number): void {\n  const b = g<number>(a as number)!, c: number = g(b as number); if (g(true as boolean)) { g(c); throw new Error('x') }\n}`,
  'in an arrow without a block': `const fail = (e: unknown): never => { throw e }\nexport const f = (): void => [1].forEach((n: number) => n && fail(new Error('x')))`,
  'in a branch without a block':
    `export function f(): void {\n  for (const n of [1, 2] as const) if (n > 1) throw new Error('x'); else f.call(null as never, n as never)\n}`.replace(
      'f.call(null as never, n as never)',
      'String(n as number)',
    ),
  'after exports and comments': `/* it */ export type T = { a: 1 }; export const a: T = { a: 1 } as const; /* and */ export function f(): T { return (() => { throw new Error('x') })() }`,
  'over lines': `import type { X } from './y'\nexport const f =\n  (x?: X): void =>\n    void [x]\n      .map((y: X | undefined) => y ?? 1)\n      .forEach((): void => {\n        throw new Error('x')\n      })`,
  'where TypeScript emitted code': `enum E { a = 1 }\nexport function f(): void {\n  const e: E = E.a\n  if (e === E.a) throw new Error('x')\n}`,
  'when it is loaded': `const a: number = 1\nexport const b: number = (() => { throw new Error('x') })()`,
}

describe.each(Object.entries(equipped))('of %s code', (name, options) => {
  test.each(Object.entries(TEXTS))('%s', (what, text) => {
    const at = text.indexOf('new Error')
    const lines = text.slice(0, at).split('\n')
    // Probes move what TypeScript then emits code for: the line stays.
    const column =
      name === 'probed' && what.startsWith('where TypeScript') ? (expect.any(Number) as number) : lines.at(-1)!.length + 1
    expect(placeOf(text, options)).toEqual({
      code: what === 'when it is loaded' ? 'hook/module-threw' : 'hook/threw',
      file: FILE,
      line: lines.length,
      column,
    })
  })

  test('a step too many is reported at the line of its loop or function', () => {
    const meter = new Meter()
    meter.m = 5
    meter.limit = {
      passed: () => {
        throw new HookError('budget/spent', { limit: 5, budget: 'steps', spent: 6, chain: '', advice: '' })
      },
    }
    const text = `export function f(): void {\n  let n = 0\n  while (\n    n < 100\n  ) {\n    n++\n  }\n}`
    const sandbox = new Sandbox({ read: () => text, builtins: {}, meter, ...options })
    const { exports } = sandbox.load(FILE)
    try {
      ;(exports as { f(): void }).f()
      expect.fail('nothing was thrown')
    } catch (error) {
      expect(sandbox.toHookError(error, {}).report).toMatchObject({ code: 'budget/spent', file: FILE, line: 3 })
    }
  })
})
