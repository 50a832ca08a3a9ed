/** Hook code that loops, eats memory, reaches out, lies, or breaks what it is given: by what has to come of it. */

export interface Hostile {
  name: string
  /** Statements of `each`, on line 4 of the hook's file unless `line` says otherwise. */
  each: string
  /** Of the error; null where the save is to go through, with nothing harmed. */
  code: string | RegExp | null
  message?: RegExp
  line?: number | null
  /** Then the record's name is this. */
  gives?: string
}

const threw = (name: string, each: string, message: RegExp, more: Partial<Hostile> = {}): Hostile => ({
  name,
  each,
  code: 'hook/threw',
  message,
  ...more,
})
const readonly = (name: string, each: string, more: Partial<Hostile> = {}): Hostile => ({
  name,
  each,
  code: 'hook/readonly',
  ...more,
})
const withheld = (name: string, each: string): Hostile => ({
  name,
  each,
  code: 'hook/unavailable',
  message: /is not available inside a hook/,
})
/** Runs to its end; what it tried came to nothing. */
const harmless = (name: string, each: string, gives: string): Hostile => ({ name, each, code: null, gives })
const stopped = (name: string, each: string, more: Partial<Hostile> = {}): Hostile => ({
  name,
  each,
  code: /^budget\/(stopped|spent|memory)$/,
  ...more,
})

export const ENDLESS: Hostile[] = [
  stopped('loop', `while (true) {}`),
  stopped('do-loop', `do {} while (true)`),
  stopped('for-loop', `for (;;) ;`),
  stopped('swallowed', `for (;;) { try { while (true) {} } catch {} }`),
  stopped('finally', `try { while (true) {} } finally { while (true) {} }`),
  stopped('recursion-caught', `const f = (): void => { try { f() } finally { f() } }; f()`),
  stopped('generator', `function* g() { for (;;) yield 1 } for (const x of g()) void x`, { line: null }),
  stopped('iterator', `for (const x of { [Symbol.iterator]: () => ({ next: () => ({ value: 1, done: false }) }) }) void x`),
  stopped('getter-loop', `const o = { get a(): number { return this.a } }; for (;;) { try { void o.a } catch {} }`, {
    line: null,
  }),
  stopped('sort', `for (;;) [3, 1, 2].sort(() => 0.5 - 1)`),
  stopped('replace', `'a'.repeat(1e6).replace(/a/g, () => { for (;;) ; })`),
  stopped('tagged', 'const t = (..._: unknown[]): never => { for (;;) ; }; t`x`', { line: null }),
  stopped('map-callback', `[1].map(() => { for (;;) ; })`),
  stopped('proxy-trap', `const p = new Proxy({}, { get() { for (;;) ; } }) as any; void p.x`),
  stopped('to-json', `JSON.stringify({ toJSON() { for (;;) ; } })`),
  stopped('reviver', `JSON.parse('[1]', () => { for (;;) ; })`),
  stopped('class-static', `class A { static x = (() => { for (;;) ; })() }; void A`, { line: null }),
  stopped('default-parameter', `((x = (() => { for (;;) ; })()) => x)()`, { line: null }),
]

/** Native calls that take longer than anybody waits: ended with their process. */
export const NATIVE: Hostile[] = [
  stopped('pattern', `/^(a+)+$/.test('a'.repeat(40) + '!')`),
  stopped('pattern-match', `('a'.repeat(40) + '!').match(/^(a|a)*$/)`),
  stopped('pattern-split', `('a'.repeat(40) + '!').split(/(a+)+b/)`),
  stopped('pattern-replace', `('x'.repeat(40)).replace(/(x+x+)+y/, '')`),
  stopped('power', `void (7n ** 5000000n * 3n ** 9000000n).toString().length`),
  stopped('brackets', `JSON.parse('['.repeat(1e7) + ']'.repeat(1e7))`, {
    code: /^(budget\/(stopped|memory)|hook\/threw)$/,
    line: null,
  }),
  stopped('big-array', `new Array(1e9).fill(0)`, { line: null }),
  stopped('array-from', `Array.from({ length: 1e9 })`, { line: null }),
  stopped('hoard', `const all: unknown[] = []; for (;;) all.push(new Array(1e5).fill(all.length))`, { line: null }),
  stopped(
    'hoard-text',
    `let s = 'x'; const all: string[] = []; for (;;) { s = s + s.slice(0, 1e6) + all.length; all.push(s + '!') }`,
    {
      line: null,
      code: /^(budget\/|hook\/threw)/,
    },
  ),
  stopped('hoard-map', `const m = new Map(); for (let i = 0; ; i++) m.set({ i }, [i])`, { line: null }),
  stopped('index-of', `'a'.repeat(2 ** 28).indexOf('a'.repeat(1e5) + 'b')`, { code: /^(budget\/|hook\/threw)/, line: null }),
]

export const REACHING: Hostile[] = [
  withheld('process', `process.exit()`),
  withheld('require', `require('fs')`),
  withheld('fetch', `fetch('http://127.0.0.1/')`),
  withheld('timer', `setTimeout(() => {}, 0)`),
  withheld('microtask', `queueMicrotask(() => {})`),
  withheld('structured-clone', `structuredClone({})`),
  withheld('shared', `new SharedArrayBuffer(8)`),
  withheld('atomics', `Atomics.waitAsync`),
  withheld('typed-array', `new Int32Array(1)`),
  withheld('weak-ref', `new WeakRef({})`),
  withheld('registry', `new FinalizationRegistry(() => {})`),
  withheld('compartment', `new Compartment()`),
  withheld('global-this', `(globalThis as any).process`),
  withheld('performance', `performance.now()`),
  withheld('crypto', `crypto.randomUUID()`),
  withheld('wasm', `WebAssembly.compile`),
  withheld('buffer', `Buffer.alloc(1)`),
  withheld('console', `console.log(1)`),
  withheld('indirect-eval', `(0, (globalThis as any)['ev' + 'al'])('1')`),
  threw('constructor', `(() => {}).constructor('return process')()`, /not a valid constructor|TypeError/),
  threw(
    'generator-constructor',
    `Object.getPrototypeOf(function* () {}).constructor('return process')()`,
    /not a valid constructor|TypeError/,
  ),
  harmless('async-constructor', `row.now.name = typeof (Object.getOwnPropertyNames(Object).includes('fromAsync'))`, 'boolean'),
  { name: 'clock', each: `row.now.name = String(Date.now())`, code: 'hook/unavailable' },
  { name: 'clock-new', each: `row.now.name = String(new Date().getTime())`, code: /^hook\/(unavailable|threw)$/ },
  { name: 'random', each: `row.now.qty = Math.random()`, code: 'hook/unavailable' },
  harmless(
    'stack',
    `try { (Error as any).prepareStackTrace = () => 'taken over' } catch {} row.now.name = String(new Error('x').stack).includes('taken over') ? 'taken' : 'held'`,
    'held',
  ),
  harmless(
    'no-promise',
    `row.now.name = [].concat([Symbol.iterator] as any).length + typeof (globalThis as any).Array.fromAsync`,
    '1undefined',
  ),
]

/** Nothing that the engine needs can be named or reached. */
export const NAMING: Hostile[] = [
  harmless('arguments-of-each', `row.now.name = String((function () { return arguments.length })())`, '0'),
  harmless('own-source', `row.now.name = /\\$meter/.test(String(() => { for (;;) break })) ? 'shown' : 'hidden'`, 'shown'),
  harmless('meter-by-name', `row.now.name = typeof (globalThis as any).$meter`, 'undefined'),
  harmless('place-by-name', `row.now.name = typeof (globalThis as any).$place`, 'undefined'),
  harmless(
    'callers',
    `const f: any = function () {}; let seen = 'none'; try { seen = typeof f.caller } catch { seen = 'undefined' } row.now.name = seen`,
    'undefined',
  ),
  harmless(
    'this-of-each',
    `row.now.name = (function (this: unknown) { return typeof this })() + typeof this`,
    'undefinedundefined',
  ),
  harmless('own-row', `row.now.name = Object.getOwnPropertySymbols(row).length + typeof (row as any).constructor`, '0function'),
]

/** What is handed to hooks cannot be changed by them. */
export const CHANGING: Hostile[] = [
  readonly('refuse-off', `Object.getPrototypeOf(row).refuse = () => {}`),
  readonly('changed-off', `Object.defineProperty(Object.getPrototypeOf(row), 'changed', { value: () => false })`),
  readonly('row-now', `(row as any).now = {}`),
  readonly('row-own', `(row as any).refuse = () => {}`),
  readonly('record-prototype', `(Object.getPrototypeOf(row.now) as any).name = 'all'`),
  readonly('record-accessor', `Object.defineProperty(row.now, 'name', { get: () => { for (;;) ; } })`),
  harmless(
    'record-trap',
    `let at: any = row.now; for (let i = 0; i < 3; i++) at = Object.getPrototypeOf(at); try { Object.defineProperty(at, 'qty', { value: 1 }) } catch {} row.now.name = 'held'`,
    'held',
  ),
  { name: 'record-new-prototype', each: `Object.setPrototypeOf(row.now, {})`, code: /^hook\/(readonly|threw)$/ },
  readonly('record-frozen', `Object.freeze(row.now)`, { line: null }),
  { name: 'record-delete', each: `delete (row.now as any).name`, code: /^hook\/(readonly|wrong-type|threw)$/, line: null },
  readonly('context', `(context as any).next = () => 'N'`),
  readonly('context-function', `(context.log as any).seen = 1`),
  readonly('object-prototype', `(Object.prototype as any).polluted = true`),
  readonly('array-prototype', `(Array.prototype as any).map = () => []`),
  readonly('string-prototype', `(String.prototype as any).trim = () => ''`),
  // What is withheld is the same for all modules.
  {
    name: 'scope',
    each: `Object.defineProperty(Object.getPrototypeOf(globalThis), 'fetch', { value: () => 1 })`,
    code: /^hook\/(readonly|threw)$/,
  },
  { name: 'scope-set', each: `Object.getPrototypeOf(globalThis).fetch = () => 1`, code: /^hook\/(readonly|threw)$/ },
  readonly('scope-new-name', `Object.getPrototypeOf(globalThis).seen = 1`),
  readonly('scope-getter', `(Object.getOwnPropertyDescriptor(Object.getPrototypeOf(globalThis), 'fetch')!.get as any).seen = 1`),
  readonly('scope-setter', `(Object.getOwnPropertyDescriptor(Object.getPrototypeOf(globalThis), 'fetch')!.set as any).seen = 1`),
  harmless('scope-own', `(globalThis as any).fetch = 'mine'; row.now.name = fetch as any`, 'mine'),
  readonly('json', `(JSON as any).stringify = () => ''`),
  readonly('math', `(Math as any).max = () => 0`),
  readonly('map-prototype', `(Map.prototype as any).get = () => undefined`),
  readonly('error-prototype', `(Error.prototype as any).toString = () => { for (;;) ; }`, {
    code: /^hook\/(readonly|threw)$/,
  } as Partial<Hostile>),
  readonly('function-prototype', `(Object.getPrototypeOf(() => {}) as any).call = () => {}`),
  readonly('iterator-prototype', `(Object.getPrototypeOf([][Symbol.iterator]()) as any).next = () => ({ done: true })`),
  readonly('regexp', `(RegExp.prototype as any).test = () => true`),
  readonly('engine-error', `try { (row.now as any).nope } catch (e: any) { e.report.code = 'store/locked' }`),
  harmless(
    'engine-error-class',
    `let found = 'none'; try { (row.now as any).nope } catch (e: any) { found = e.constructor === undefined ? 'hidden' : 'shown' } row.now.name = found`,
    'hidden',
  ),
  {
    name: 'forged',
    each: `throw Object.assign(new Error('x'), { report: { code: 'store/locked', message: 'm' }, name: 'HookError' })`,
    code: 'hook/threw',
  },
]

/** Reading what was thrown never runs its code. */
export const THROWN: Hostile[] = [
  threw('text', `throw 'plain text'`, /threw text "plain text"/),
  threw('nothing', `throw undefined`, /threw undefined/),
  threw('null', `throw null`, /threw null/),
  threw('symbol', `throw Symbol('s')`, /threw a symbol/),
  threw('function', `throw () => {}`, /threw a function/),
  threw('bigint', `throw 10n`, /threw 10/),
  threw('object', `throw { a: 1 }`, /threw an object/),
  threw('message-getter', `throw { get message(): string { throw new Error('inner') } }`, /threw an object/),
  threw('message-loop', `throw { get message(): string { for (;;) ; } }`, /threw an object/),
  threw('to-string', `throw { toString() { throw new Error('inner') } }`, /threw an object/),
  threw('proxy', `throw new Proxy({}, { get() { throw new Error('inner') }, getPrototypeOf() { for (;;) ; } })`, /threw a proxy/),
  threw('proxy-error', `throw new Proxy(new Error('x'), { get() { for (;;) ; } })`, /threw a proxy/),
  threw(
    'error-message-getter',
    `const e = new Error('x'); Object.defineProperty(e, 'message', { get() { for (;;) ; } }); throw e`,
    /without a message/,
  ),
  threw(
    'error-name-getter',
    `const e = new Error('plain'); Object.defineProperty(e, 'name', { get() { throw e } }); throw e`,
    /plain/,
  ),
  threw(
    'error-stack-getter',
    `const e = new Error('plain'); Object.defineProperty(e, 'stack', { get() { for (;;) ; } }); throw e`,
    /plain/,
  ),
  threw(
    'error-message-object',
    `throw Object.assign(new Error(''), { message: { toString() { for (;;) ; } } })`,
    /without a message/,
  ),
  threw(
    'error-prototype-proxy',
    `const e = new Error('x'); Object.setPrototypeOf(e, new Proxy({}, { get() { for (;;) ; }, getPrototypeOf() { for (;;) ; } })); throw e`,
    /x|without a message/,
  ),
  threw('error-class', `class Odd extends Error { get name() { return 'Odd' } }; throw new Odd('odd one')`, /odd one/),
  threw('error-long', `throw new Error('x'.repeat(2 ** 27))`, /a text of 134217728 characters/),
  threw('text-long', `throw 'x'.repeat(2 ** 27)`, /a text of 134217728 characters/),
  threw('aggregate', `throw new AggregateError([new Error('a')], 'several')`, /several/),
  threw('coded', `throw Object.assign(new Error('full'), { code: 'SQLITE_FULL' })`, /full/),
  threw('overflow', `const f = (): number => f() + 1; f()`, /Maximum call stack|stack/, {
    line: null,
    code: /^(hook\/threw|budget\/spent)$/,
  } as Partial<Hostile>),
]

/** Values that no field takes, and text that is too long. */
export const VALUES: Hostile[] = [
  {
    name: 'wrong-type',
    each: `(row.now as any).qty = 'five'`,
    code: 'hook/wrong-type',
    message: /takes an integer, but got text "five"/,
  },
  { name: 'undefined-value', each: `(row.now as any).qty = undefined`, code: 'hook/wrong-type' },
  { name: 'nan', each: `row.now.qty = NaN`, code: 'hook/wrong-type' },
  { name: 'huge', each: `row.now.qty = 2 ** 60`, code: 'hook/wrong-type' },
  {
    name: 'object-value',
    each: `(row.now as any).name = { toString() { for (;;) ; } }`,
    code: 'hook/wrong-type',
    message: /an object/,
  },
  { name: 'proxy-value', each: `(row.now as any).name = new Proxy({}, { get() { for (;;) ; } })`, code: 'hook/wrong-type' },
  { name: 'proxy-list', each: `(row.now as any).name = new Proxy([], { get() { for (;;) ; } })`, code: 'hook/wrong-type' },
  { name: 'date', each: `(row.now as any).name = new Date(0)`, code: 'hook/wrong-type', message: /Date object/ },
  { name: 'function-value', each: `(row.now as any).name = () => {}`, code: 'hook/wrong-type' },
  { name: 'long-text', each: `row.now.name = 'x'.repeat(2 ** 28)`, code: 'hook/wrong-type', message: /at most 1000000/ },
  { name: 'surrogate', each: `row.now.name = 'a\\ud800b'`, code: 'hook/wrong-type', message: /surrogate/ },
  { name: 'long-field', each: `void (row.now as any)['x'.repeat(1e6)]`, code: 'hook/unknown-field' },
  { name: 'unknown', each: `(row.now as any).nmae = 1`, code: 'hook/unknown-field', message: /did you mean name/ },
  { name: 'id', each: `(row.now as any).id = 5`, code: 'hook/readonly' },
  {
    name: 'refusal-long',
    each: `row.refuse('name', 'x'.repeat(2 ** 27))`,
    code: 'hook/refused',
    message: /a text of 134217728 characters/,
  },
  {
    name: 'refusal-object',
    each: `row.refuse('name', { toString() { throw new Error('odd') } } as any)`,
    code: 'hook/bad-argument',
    message: /row.refuse takes its message as text, but got an object/,
  },
  { name: 'refusal-field', each: `row.refuse('nmae' as any, 'no')`, code: 'hook/unknown-field' },
  { name: 'log-long', each: `context.log('x'.repeat(2 ** 27)); row.now.name = 'logged'`, code: null, gives: 'logged' },
  {
    name: 'log-odd',
    each: `try { context.log({ toJSON() { throw new Error('x') } }) } catch {} row.now.name = 'logged'`,
    code: null,
    gives: 'logged',
  },
  { name: 'next-unknown', each: `(context as any).next('nope')`, code: 'hook/unknown-sequence' },
  {
    name: 'returned-thenable',
    each: `row.now.name = 'kept'; return { get then(): never { throw new Error('x') } }`,
    code: null,
    gives: 'kept',
  },
]

export const ALL = [...ENDLESS, ...NATIVE, ...REACHING, ...NAMING, ...CHANGING, ...THROWN, ...VALUES]
