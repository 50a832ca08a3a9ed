import { join } from 'node:path'
import fc from 'fast-check'
import ts from 'typescript'
import { describe, expect, test } from 'vitest'
import { readFolder } from '../../src/model/folder.js'
import { compileModule, compileModules, type CompiledModule, type Equipment } from '../../src/sandbox/compile.js'

/**
 * What is made of TypeScript by blanking its types does what TypeScript's own emitter makes of it (transpileModule of the package `typescript`, the
 * reference here), with and without what records and counts.
 */

type Exports = Record<string, unknown>
type Load = (text: string, exports: Exports, require: (name: string) => unknown) => unknown

const EQUIPMENT: readonly Equipment[] = ['plain', 'probed', 'counted']
const probe = { at: () => {}, turn: () => {}, value: (_place: number, _name: string, value: unknown) => value }

function byOurs(equipment: Equipment, note: (compiled: CompiledModule) => void = () => {}): Load {
  return (text, exports, require) => {
    const compiled = compileModule('plugins/p/lib/x.ts', text, 1, equipment)
    note(compiled)
    const { names, code, counted } = compiled
    const counters = counted ? { [counted.counters]: () => counted.data } : {}
    const given = {
      [names.meter]: { n: 0, m: 1e6, stop: () => expect.fail('too many steps') },
      [names.place]: [0],
      [names.probe]: probe,
      [names.exports]: exports,
      [names.require]: require,
      ...counters,
    }
    return new Function(...Object.keys(given), code)(...Object.values(given)) as unknown
  }
}

const byReference: Load = (text, exports, require) => {
  const { outputText } = ts.transpileModule(text, {
    compilerOptions: {
      target: ts.ScriptTarget.ES2022,
      module: ts.ModuleKind.CommonJS,
      esModuleInterop: true,
      isolatedModules: true,
    },
  })
  return new Function('exports', 'require', outputText)(exports, require) as unknown
}

/** Runs `main`, and gives what it exports, and what it throws. */
function outcome(modules: Readonly<Record<string, string>>, load: Load): { exports: Exports; thrown: string } {
  const loaded = new Map<string, Exports>()
  const require = (name: string): Exports => {
    const known = loaded.get(name)
    if (known) return known
    const exports = Object.create(null, { __esModule: { value: true, writable: true } }) as Exports
    loaded.set(name, exports)
    load(modules[name]!, exports, require)
    return Object.freeze(exports)
  }
  try {
    return { exports: { ...require('./main') }, thrown: '' }
  } catch (error) {
    return { exports: {}, thrown: String(error) }
  }
}

/** What functions and classes are called is compared, and not what they are made of; the emitter gives a default without a name its own one. */
function plain({ exports, thrown }: ReturnType<typeof outcome>) {
  const shown = (value: unknown): unknown =>
    typeof value === 'function' ? `function ${value.name.replace(/^default_1$/, '')}` : value
  return { thrown, exports: Object.fromEntries(Object.entries(exports).map(([name, value]) => [name, shown(value)])) }
}

function expectTheSame(modules: Readonly<Record<string, string>>, equipments = EQUIPMENT): void {
  const reference = plain(outcome(modules, byReference))
  for (const equipment of equipments) expect(plain(outcome(modules, byOurs(equipment))), equipment).toEqual(reference)
}

const isBlanked = (text: string): boolean => compileModule('plugins/p/lib/x.ts', text, 1).map.further === null

/** By what is in them; `out` is what they tell. */
const BLANKED: Readonly<Record<string, string>> = {
  annotations: `let a: number = 1, b: string | null = null; const { c, d }: { c: number; d?: string } = { c: 2 }; export const out = [a, b, c, d]`,
  'parameters and results': `function f(this: void, a: number, b?: string, ...c: number[]): [number, string | undefined, number] { return [a, b, c.length] }
export const out = [f(1), f(1, 'x', 2, 3)]`,
  'only this': `function f(this: unknown): number { return 3 }\nexport const out = f.call(null)`,
  'this with a comment': `function f(this: unknown /* first */, /* then */ a: number): number { return a }\nexport const out = f.call(null, 3)`,
  generics: `function id<T extends number | string>(x: T): T { return x }\nconst m = new Map<string, Array<number>>()
m.set('a', [id<number>(1)])\nexport const out = [...m.entries()]`,
  'generics over lines': `function id<\n  T, // what it is\n>(x: T): T { return x }\nexport const out = id<\n  number\n>(4)`,
  'generic arrows': `const f = <T,>(x: T): T => x\nconst g = async_<number>\n(1)\nfunction async_<T>(x: T) { return () => x }\nexport const out = [f(1), g()]`,
  assertions: `const o = { a: 1 } as const, p = ({ b: 2 } satisfies { b: number }).b\nexport const out = [o.a as number, p!, (o as any)!.a!]`,
  'an assertion ends a line': `const f = (x: unknown) => x\nlet a = f as (x: unknown) => unknown\n;[1].forEach(() => {})\nlet b = a as typeof f\n(0, b)(1)\nexport const out = b(2)`,
  'an assertion ends a line before a bracket': `const f = (x: unknown) => x\nconst list = [1, 2]\nlet b = f as any\n[0, 1].map(b)\nlet c = list satisfies number[]\n\`\${1}\`.trim()\nexport const out = [typeof b, c]`,
  'an assertion ends a line before one that calls nothing': `let a: unknown[] = [1], b = 2, c = a as unknown\n[b] = [3]\nlet d = a satisfies unknown\n(b)\nlet e = b as number\n-b\nexport const out = [b, c, d, e]`,
  'a type ends between lines that call nothing': `let a: any = (x: any) => x, b = 1\nlet c = a\ntype T = 1\n(b)\nlet d = a\ninterface I {}\n[b] = [2]\nlet e = b\ndeclare let f: number\n-b\nexport const out = [typeof c, typeof d, e]`,
  'an assertion ends the only statement': `let a: unknown = 1\nif (a) a = 2 as number\nelse a = 3 as number\nfor (const x of [4] as number[]) a = x as number\nexport const out = a`,
  'assertions in expressions': `const a = 2 as number, b = 3 as number\nlet c = a as number + b\nc = a * (b as number) + (a as number)\nlet d = (a as number) ** 2, e = (a as unknown as number) < b\nexport const out = [c, d, e, a as number ? 1 : 2, !(a as unknown), a as number, (a as any ?? b)]`,
  'an asserted target': `const o: Record<string, unknown> = {}\n;(o as any).x = 1\n;(o.y as number) = 2\no.z! = 3\no['w']! ??= 4\nexport const out = o`,
  'exclamation marks': `const o: { a?: { b: number[] } } = { a: { b: [1] } }\nlet n = o.a!.b[0]!\nn!++\nconst s = o.a!.b! instanceof Array, t = 'a'! in o\nexport const out = [n, s, t, o?.a!.b, !o!]`,
  'types between statements': `let log: string[] = []\nconst f = (x: string) => log.push(x)\nlet a = f\ntype A = string\n;(0, f)('a')\nlet b = a\ninterface B { x: number }\n[1].forEach(() => f('b'))\nlet c = 1\ndeclare const d: number\n-c\nexport const out = log`,
  overloads: `function f(x: number): number\nfunction f(x: string): string\nfunction f(x: any): any { return x }\nexport function g(x: number): number\nexport function g(x: unknown) { return x }\nexport const out = [f(1), f('a'), g(2)]`,
  classes: `abstract class A<T> { abstract name: string; abstract get(): T; protected readonly x: number = 1; y!: string; z?: number; static readonly s = 2
  declare w: number; [key: string]: unknown; #p = 3; constructor(a: number) { this.x += a } private m(): number { return this.x + this.#p } public all() { return this.m() } }
class B extends A<number> implements Iterable<number> { override name = 'b'; get() { return 4 }; *[Symbol.iterator](): Iterator<number> { yield 1; yield 2 }
  public get q(): number { return 5 }; set q(v: number) { this.z = v } }
const b = new B(6); b.q = 7; export const out = [b.all(), b.get(), b.name, [...b], b.q, b.z, A.s, 'y' in b, 'w' in b, Object.keys(b)]`,
  'members without semicolons': `class A {\n  a = 1\n  public ['b'] = 2\n  c: number\n  readonly ['d'] = 3\n  e = 1 as number\n  ['f'] = 4\n  g?: string\n  *h() { yield 1 }\n  m(): void\n  m(x?: number) { return x }\n  declare n: number\n  ['o']() { return 9 }\n}
const a = new A()\nexport const out = [{ ...a }, [...a.h()], a.o()]`,
  'names that are words': `class A { get: number\n static = 1\n set?: string\n declare = 2\n readonly = 3\n type() { return 4 } }\nconst type = 5, declare = 6, as = 7, satisfies = 8\nconst o = { as, type, abstract: 1 }\nexport const out = [{ ...new A() }, new A().type(), type + declare + as + satisfies, o]`,
  'arrows with results': `const f = (a: number): number => a, g = (a: number, b: string = 'x'): { a: number } => ({ a })\nexport const out = [f(1), g(2), ((): string => 'z')()]`,
  'a guard, a predicate and an assertion signature': `function is(x: unknown): x is number { return typeof x === 'number' }\nfunction must(x: unknown): asserts x { if (!x) throw 1 }\nmust(1)\nexport const out = [1, 'a'].filter((x): x is number => is(x))`,
  'tagged templates': `const t = <T>(s: TemplateStringsArray, ...n: T[]) => s.raw.join('-') + n\nexport const out = [t<number>\`a\${1}b\`, t\`c\`]`,
  'optional calls': `const f: (<T>(x: T) => T) | undefined = (x) => x\nexport const out = [f?.<number>(1), (f as any)?.(2)]`,
  'catch, for and switch': `const log: unknown[] = []\ntry { throw new Error('x') } catch (e: unknown) { log.push((e as Error).message) }\nfor (let i: number = 0, n = 2 as number; i < n; i++) log.push(i)
for (const k in { a: 1 } as Record<string, number>) log.push(k)\nouter: for (const x of [1, 2] as const) for (const y of [1, 2]) { if (y > x) continue outer; log.push(x * y) }
switch (log.length as number) { case 5 as number: log.push('five'); break; default: log.push('other') }\ndo log.pop(); while (log.length > 6)\nexport const out = log`,
  'branches without blocks': `const log: number[] = []\nconst f = (n: number) => log.push(n)\nfor (let i = 0; i < 3; i++) if (i === 0) f(0); else if (f(10) > 3) f(1); else f(2)\nlet n = 2\nwhile (n--) f(n)\ndo f(7); while (log.length < 8)\nexport const out = log`,
  'arrows in arrows': `const f = (a: number) => (b: number) => [a, b].map((x) => x as number)\nconst g = () => () => ({ x: 1 })\nexport const out = [f(1)(2), g()().x, [3].map(x => [x].map(y => y + x))]`,
  'calls at the end of arrows': `const list = [[1, 2], [3]]\nconst f = (x: number[]) => x.map(y => String(y))\nexport const out = list.map(x => f(x)).map(x => x.join())`,
  generators: `function* g(): Generator<number, void, number> { const x: number = yield 1; yield x as number }\nconst it = g()\nexport const out = [it.next(0).value, it.next(5).value]`,
  regexes: `const a = 4, g = 2\nconst r = /[/]\\/*"/g, s = a / g / 1\nexport const out = [r.source, s, 'x' as string, /as any/.test('as any')]`,
  'comments everywhere': `/* a: string */ const a /* : number */ : /* number */ number /* = */ = /* 1 as */ 1 // as number\nfunction f(/* a */ x /* b */ : number /* c */, // d\n  y?: /* e */ string): /* f */ number { return x }\nexport const out = [a, f(2)]`,
  'unions that begin lines': `type A =\n  | 'x'\n  | 'y'\nlet a:\n  | 'x'\n  | 'y' = 'x'\nexport const out = [a]`,
  'object types in generics': `const m = new Map<string, { a: number; b(): void }>([['x', { a: 1, b() {} }]])\nexport const out = m.get('x')!.a`,
  'a declared function and module': `declare function nothing(): void\ndeclare namespace N { const x: number }\ndeclare global { interface Window {} }\nexport declare const gone: number\nexport const out = typeof (0 as any)`,
  'exports of types': `export type A = string\nexport interface B {}\nexport abstract class C {}\nexport type { A as D }\ninterface E {}\nexport default E\nexport const out = 1`,
  'decrements before greater': `let n = 3, i = 0\nwhile (n-->0) i++\nconst s = 'import (x) <!-- eval ( -->'\n/* import('x') eval('y') */ // <!-- -->\nexport const out = [i, s, /import\\(/.source, \`eval(\${1}import(\`, 2<!--n]`,
  'a default function': `export default function (a: number): number { return a }\n(1)\nexport const out = 1`,
  'a default class': `export default class A<T> { x = 1 as number }\n;[1].map((x) => x)\nexport const out = new A<number>().x`,
  'a default that is asserted': `let n = 1\nexport default { a: 1 } satisfies { a: number }\n[n] = [2]\nexport const out = n`,
  'a default arrow': `export default <T,>(x: T): T => x\nexport const out = 1`,
  'a default generator': `export default function* named(): Iterable<number> { yield 1 }\nexport const out = [...named()]`,
  'bound exports': `export const { a, b: [c, , ...d], ...e }: any = { a: 1, b: [2, 3, 4], f: 5 }\nexport let x: number = 1, y\nexport const out = [a, c, d, e, x, y]`,
  'names that are taken': `const $meter = 1, $place = 2, $exports = 3, $require = 4, $probe = 5\nexport const out = [$meter, $place, $exports, $require, $probe, ((a: number) => a)(6)]`,
  'a line of every kind of end': `const a: number = 1\r\nconst b: string = 'x'\r\ntype C = {\r\n  d: number\r\n}\r\n/* \u2028 */ export const out = [a, b]`,
}

/** TypeScript emits code for it, or a gap would be read otherwise. */
const EMITTED: Readonly<Record<string, string>> = {
  enums: `enum A { x, y = 'b' as any, z = 5 }\nconst enum B { p = 1 }\nexport enum C { q }\nexport const out = [A, B.p, C.q]`,
  namespaces: `namespace N { export const x: number = 1; export function f() { return x } }\nexport const out = N.f()`,
  'parameters that are properties': `class A { constructor(public a: number, private readonly b = 2) {} sum() { return this.a + this.b } }\nexport const out = new A(1).sum()`,
  'angle brackets for assertions': `const a = <number>1\nconst f = () => <any>{ x: 1 }\nexport const out = [a, f()]`,
  decorators: `function d(v: any, c: any): any { return v }\nclass A { @d m() { return 1 } }\nexport const out = new A().m()`,
  accessors: `class A { accessor x: number = 1 }\nexport const out = new A().x`,
  'assertions that hold operands together': `const a = 6, b = 2\nexport const out = [a + b as number * 2, a * b as number - 1, null ?? a as number, (0 || a) as number ?? b]`,
  'a logical mix, which cannot be counted': `const a: any = 0, b: any = 2, c: any = 3\nexport const out = [a ?? b as any && c]`,
  'a line end before an arrow': `const f = (a: number)\n: number => a\nconst g = <\n  T\n>(x: T): T => x\nexport const out = [f(1), g(2)]`,
  'import by equation': `import x = require('./other')\nimport y = N.z\nnamespace N { export const z = 1 }\nexport const out = [x, y]`,
  'an export that changes while it is loaded': `export let a = 1\na = 2\nexport let b = 1\nfor (b of [3, 4]);\nlet c = 1\nexport { c as d }\n;[c] = [5]\nexport const out = [a, b, c]`,
}

describe('blanked types', () => {
  test.each(Object.entries(BLANKED))('%s', (_, text) => {
    expectTheSame({ './main': text })
    expect(isBlanked(text)).toBe(true)
  })
})

test('a line for a shell is none of the module', () => {
  const text = `#!/usr/bin/env node\nexport const out: number = 1`
  expect(outcome({ './main': text }, byOurs('plain'))).toEqual({ thrown: '', exports: { out: 1 } })
})

describe('what has to be emitted', () => {
  test.each(Object.entries(EMITTED))('%s', (name, text) => {
    const equipments = name.endsWith('cannot be counted') ? EQUIPMENT.slice(0, 2) : EQUIPMENT
    expectTheSame({ './main': text, './other': 'export const a = 1' }, equipments)
    expect(isBlanked(text)).toBe(false)
  })
})

const LIB = `export const a: number = 1\nexport default class K { x = 2 }\nexport type T = string\nexport interface I { y: number }\nexport function f(): number { return a }\nexport { a as 'odd name' }`
const IMPORTS: Readonly<Record<string, string>> = {
  named: `import { a, f as g } from './lib'\nexport const out = [a, g()]`,
  'by default': `import K from './lib'\nexport const out = new K().x`,
  'both, with types among them': `import K, { type T, a, type I } from './lib'\nlet t: T = 'x', i: I | null = null\nexport const out = [new K().x, a, t, i]`,
  'as a whole': `import * as lib from './lib'\nexport const out = [lib.a, lib.f(), Object.keys(lib).sort()]`,
  'default and whole': `import K, * as lib from './lib'\nexport const out = [new K().x, lib.a, K === lib.default]`,
  'types only': `import type { T } from './lib'\nimport { type I } from './lib'\nimport { T as U } from './lib'\nlet t: T | U = 'x'\nexport const out = t as unknown as I`,
  'for what it does': `import './told'\nimport { told } from './log'\nexport const out = told`,
  'in order, late too': `import { told } from './log'\ntold.push('main')\nimport './told'\nexport const out = [...told]`,
  'over lines': `import {\n  a, // first\n  f,\n} from './lib'\nexport const out = [a, f()]`,
  'a name that a type has as well': `import { T } from './lib'\nconst T2 = 1\ninterface Local { T: T }\nexport const out = [T2]`,
  'exported again': `export { a, default as K, a as 'x y' } from './lib'\nexport const out = 1`,
  'all exported again': `export * from './lib'\nexport * from './more'\nexport const a = 'own'\nexport { f } from './more'`,
  'exported again under a name': `export * as lib from './log'\nimport { a } from './lib'\nexport { a as b, a }\nexport default a`,
  'odd names': `import { 'odd name' as odd } from './lib'\nexport const out = odd`,
}
const OTHERS = {
  './lib': LIB,
  './log': 'export const told: string[] = []',
  './told': `import { told } from './log'\ntold.push('told')`,
  './more': `export const a = 'more', b = 'b', toString = 1\nexport function f(): string { return 'f of more' }\nexport default 3`,
}

describe('imports and exports', () => {
  test.each(Object.entries(IMPORTS))('%s', (_, text) => {
    expectTheSame({ './main': text, ...OTHERS })
    expect(isBlanked(text)).toBe(true)
  })

  test('an export that changes later is refused as it was when it was emitted', () => {
    const lib = `export let n: number = 1\nexport function more(): void { n++ }`
    expectTheSame({ './main': `import { n, more } from './lib'\nmore()\nexport const out = n`, './lib': lib })
    expect(isBlanked(lib)).toBe(false)
  })

  test('a name that is only a local one elsewhere costs nothing but time', () => {
    expectTheSame({ './main': `export let n: number = 1\nexport const out = ((n: number) => { n += 1; return n })(4)` })
  })
})

/** Statements that end and begin as they may, in sequence: `log` is what they tell. */
const STATEMENTS = [
  'v = v + 1 as number',
  'log(v)',
  'log(v as number);',
  '(log as any)(v)',
  '[v].forEach(log)',
  '`a${v}`.split("").forEach(log)',
  '+v',
  '[v] = [v + 1]',
  '(v)',
  'let got: any = v as number',
  'got = [v] as number[]',
  '/v/.test("v")',
  'type T = { a: number }',
  'interface I { a: number }',
  'declare const never: number',
  'declare function gone(): void;',
  'const w = log as (x: unknown) => void',
  'let x: unknown = v satisfies number',
  'let y: number | undefined',
  'if (v > 1) log("more")',
  'if (v > 1) log("more"); else log("less")',
  'if (v) { log(1) } else log(2)',
  'for (let i = 0; i < 2; i++) log(i)',
  'for (const z of [1, 2] as number[]) { log(z) }',
  'while (v < 3) v++',
  'do v-- ; while (v > 1)',
  'function f(a: number): number { return a as number }',
  'function over(a: string): void\nfunction over(a: any) { log(a) }',
  'class C { a: number\n ["b"] = v as number\n c?: string }',
  'abstract class D<T> { abstract m(): T; readonly n = 1 }',
  'const arrow = (a: number): number => a as number',
  'log([1].map((n) => n! + v))',
  'switch (v) { case 1: log("one"); default: log("any") }',
  'try { throw v as unknown } catch (e: unknown) { log(e) }',
  '{ const inner: string = "i"; log(inner) }',
  'label: for (;;) break label',
  'export const e = v as number',
  'export function g<T>(a: T): T { return a }',
  'export type { T2 }; type T2 = string',
  'v!++',
  ';',
  '// a comment: string',
]

describe('statements after each other, with and without semicolons', () => {
  test('do what they do when they are emitted', () => {
    let ran = 0
    const programs = fc.tuple(
      fc.uniqueArray(fc.nat(STATEMENTS.length - 1), { minLength: 2, maxLength: 9 }),
      fc.array(fc.constantFrom('\n', ';\n', '\n\n', ' /* c */\n'), { minLength: 9, maxLength: 9 }),
      fc.constantFrom(...EQUIPMENT),
    )
    fc.assert(
      fc.property(programs, ([parts, ends, equipment]) => {
        const text = `const told: unknown[] = []\nconst log = (x: unknown) => { told.push(typeof x === 'function' ? 'f' : x) }\nexport const out = told\nlet v: number = 1\n${parts.map((part, at) => STATEMENTS[part]! + ends[at]!).join('')}`
        const tree = ts.createSourceFile('x.ts', text, ts.ScriptTarget.ES2022) as ts.SourceFile & { parseDiagnostics: unknown[] }
        fc.pre(tree.parseDiagnostics.length === 0)
        ran++
        const [ours, reference] = [outcome({ './main': text }, byOurs(equipment)), outcome({ './main': text }, byReference)]
        expect(plain(ours)).toEqual(plain(reference))
      }),
      { numRuns: 600 },
    )
    expect(ran).toBeGreaterThan(200)
  })
})

test('all code of the demo is made by blanking, and no line moves', () => {
  const demo = readFolder(join(import.meta.dirname, '../../../../demo'))
  const files = [...demo].filter(([file]) => /^plugins\/.*\.ts$/.test(file))
  expect(files.length).toBeGreaterThan(20)
  for (const [file, text] of files)
    for (const equipment of ['plain', 'probed'] as const) {
      const { code, map } = compileModule(file, text, 1, equipment)
      expect(map.further, file).toBe(null)
      const lines = code.split('\n')
      text.split('\n').forEach((line, at) => {
        for (const [literal] of line.matchAll(/'[^']*'/g))
          if (!/^(import|export) .* from |\/\/|\* |: '|\| '/.test(line)) expect(lines[at], `${file}:${at + 1}`).toContain(literal)
      })
    }
})

test('compiled in several ways at once it is what it is in each of them alone', () => {
  const demo = readFolder(join(import.meta.dirname, '../../../../demo'))
  // An export that changes is left to TypeScript's own emitter.
  const files = new Map([...demo, ['plugins/p/lib/emitted.ts', 'export let n = 1\nexport const next = (): number => ++n\n']])
  for (const [file, text] of files)
    if (file.endsWith('.ts'))
      for (const equipments of [EQUIPMENT, [...EQUIPMENT].reverse()]) {
        const together = compileModules(file, text, 3, equipments)
        expect(together.map(alike), file).toEqual(equipments.map((each) => alike(compileModule(file, text, 3, each))))
      }
})

/** Without what names a run of istanbul's. */
const alike = (compiled: CompiledModule): unknown => ({ ...compiled, counted: compiled.counted && Object.keys(compiled.counted) })
