import fc from 'fast-check'

/** Values that do something when they are looked at, or are more than anybody should be given. */

/** Notes what was called; nothing ever should be. */
export const called: string[] = []
const call = (name: string, gives: unknown) => () => {
  called.push(name)
  return gives
}

const proxyOf = (target: object) =>
  new Proxy(target, {
    get: call('proxy get', 'x'),
    has: call('proxy has', true),
    ownKeys: call('proxy ownKeys', []),
    getPrototypeOf: call('proxy getPrototypeOf', null),
    getOwnPropertyDescriptor: call('proxy getOwnPropertyDescriptor', undefined),
  } as ProxyHandler<object>)

function revoked(): object {
  const { proxy, revoke } = Proxy.revocable({}, {})
  revoke()
  return proxy
}

/** The same list or object, with methods that nobody should call. */
function withMethods<T extends object>(value: T): T {
  for (const name of [
    'toString',
    'valueOf',
    'toJSON',
    'join',
    'map',
    'filter',
    'includes',
    'forEach',
    'slice',
    'then',
    'constructor',
  ])
    Object.defineProperty(value, name, { value: call(name, 'x'), configurable: true })
  for (const name of [Symbol.iterator, Symbol.toPrimitive, Symbol.isConcatSpreadable, Symbol.asyncIterator] as const)
    Object.defineProperty(value, name, { value: call(String(name), [][Symbol.iterator]()), configurable: true })
  Object.defineProperty(value, Symbol.toStringTag, { get: call('toStringTag', 'x') })
  return value
}

function deep(levels: number): unknown {
  let value: unknown = 1
  for (let level = 0; level < levels; level++) value = level % 2 ? [value] : { a: value }
  return value
}

function cyclic(): object {
  const value: Record<string, unknown> = { a: 1 }
  value['self'] = value
  return value
}

const scalars = fc.constantFrom<unknown>(
  undefined,
  null,
  true,
  NaN,
  -0,
  1.5,
  1e21,
  2 ** 53,
  -1,
  1n,
  Symbol('x'),
  '',
  'id',
  'name',
  '"; DROP TABLE "ph_file"; --',
  '__proto__',
  'constructor',
  '\ud800',
  'x'.repeat(100_000),
)

const makers: readonly (() => unknown)[] = [
  () => proxyOf({}),
  () => proxyOf([]),
  () => proxyOf(() => 1),
  revoked,
  cyclic,
  () => deep(10),
  () => deep(100_000),
  () => withMethods({ name: 'x' }),
  () => withMethods([1, 2]),
  () => withMethods(['name']),
  () => Object.create(proxyOf({})) as unknown,
  () => ({
    get name() {
      called.push('getter')
      return 'x'
    },
  }),
  () => Object.defineProperty([1], 0, { get: call('element', 1) }),
  () => new Date(),
  () => new Map([[1, 2]]),
  () => new Set([1]),
  () => withMethods(new Map([[1, 2]])),
  () => withMethods(new Set([1])),
  () => new Array(4_000_000_000 % 2 ** 32),
  () => /x/g,
  () => new Error('x'),
  () => call('function', 1),
  () =>
    class {
      static [Symbol.hasInstance]() {
        called.push('hasInstance')
        return true
      }
    },
  () => (function* () {})(),
  () => JSON.parse('{"__proto__": {"name": "x"}}') as unknown,
  () => ({ name: proxyOf({}) }),
  () => ({ id: { in: withMethods([1]) } }),
  () => ({ sum: withMethods(['qty']) }),
  () => ({ fields: proxyOf([]) }),
]

/** Makes an argument of a call: the library that draws them looks into what it draws. */
export const hostileMaker: fc.Arbitrary<() => unknown> = fc.oneof(
  scalars.map((value) => () => value),
  fc.constantFrom(...makers),
)
