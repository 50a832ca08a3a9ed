import fc from 'fast-check'
import { expect, test } from 'vitest'
import { integer, link, text, World } from '../world.js'

/**
 * Hostile arguments, written as hook code, for every function that hooks can call. Whatever is handed over: the save ends soon, an error names
 * hook and line, nothing of the value runs, nothing but the save's own records changes, and the next save of another hook works.
 * FUZZ_RUNS sets how many projects of twenty calls each are tried (default 12).
 */

const RUNS = Number(process.env['FUZZ_RUNS'] ?? 12)
const CALLS = 20

const TOUCHED = `() => { throw new Error('touched') }`
const hostile: readonly string[] = [
  ...['undefined', 'null', 'true', 'NaN', '-0', '1.5', '1e21', '2 ** 53', '1n', 'Symbol("x")', '""', '"id"', '"\\ud800"'],
  `'"; DROP TABLE "part"; --'`,
  `'x" FROM ph_key --'`,
  `'__proto__'`,
  `'constructor'`,
  `'x'.repeat(1000000)`,
  `'%'.repeat(5000)`,
  `new Proxy({}, { get: ${TOUCHED}, has: ${TOUCHED}, ownKeys: ${TOUCHED}, getPrototypeOf: ${TOUCHED}, getOwnPropertyDescriptor: ${TOUCHED} })`,
  `new Proxy([], { get: ${TOUCHED}, ownKeys: ${TOUCHED} })`,
  `Object.create(new Proxy({}, { get: ${TOUCHED}, getPrototypeOf: ${TOUCHED} }))`,
  `{ toString: ${TOUCHED}, valueOf: ${TOUCHED}, toJSON: ${TOUCHED}, [Symbol.toPrimitive]: ${TOUCHED} }`,
  `{ get name() { throw new Error('touched') } }`,
  `Object.assign([1], { map: ${TOUCHED}, join: ${TOUCHED}, [Symbol.iterator]: ${TOUCHED}, includes: ${TOUCHED} })`,
  `Object.assign(['name'], { join: () => '*', map: () => ({ join: () => ', (SELECT 1)' }) })`,
  `{ sum: { map: ${TOUCHED}, [Symbol.iterator]: ${TOUCHED} } }`,
  `{ kind: 'x', field: { toString: ${TOUCHED} } }`,
  `{ [Symbol.iterator]: ${TOUCHED}, length: 3 }`,
  `(() => { const a: any = {}; a.a = a; return a })()`,
  `Array.from({ length: 5000 }).reduce((inner: any) => [inner], 1)`,
  `new Array(4000000000)`,
  `new Map([[1, 2]])`,
  `new Set([1, 'x', null])`,
  `new Date()`,
  `/x/g`,
  `() => 1`,
  `class { static [Symbol.hasInstance]() { throw new Error('touched') } }`,
  `(function* () { throw new Error('touched') })()`,
  `{ id: { in: [1, NaN] } }`,
  `{ id: { like: '%' } }`,
  `{ name: { like: '%a'.repeat(5000) } }`,
  `{ qty: NaN }`,
  `{ qty: { gt: Infinity } }`,
  `{ orderBy: ['name', '-name; --'] }`,
  `{ fields: ['name', 'nothing'] }`,
  `{ limit: -1 }`,
  `[[1]]`,
  `row`,
  `context`,
]
/** Each function with where it can be called and with arguments that it takes. */
const functions: readonly (readonly [name: string, part: string, ...fine: string[]])[] = [
  ['store.byId', 'load', `'part'`, '[1, 2]', `['name']`],
  ['store.children', 'load', `'part'`, `'box'`, '[1]', `['name']`],
  ['store.find', 'load', `'part'`, `{ name: 'x' }`, `{ fields: ['name'], orderBy: '-name', limit: 3 }`],
  ['store.rollup', 'load', `'part'`, `'box'`, '[1]', `{ sum: ['qty'], max: ['name'] }`],
  ['found.get', 'load', '1'],
  ['found.has', 'load', '1'],
  ['found.forEach', 'load', '() => {}'],
  ['row.changed', 'each', `'name'`, `'qty'`],
  ['row.became', 'each', '(r: any) => r.qty > 1'],
  ['row.refuse', 'before', `'name'`, `'no'`],
  ['context.log', 'each', `'x'`, '1'],
  ['context.next', 'each', `'numbers'`],
  ['context.update', 'each', `'box'`, '1', `{ name: 'y' }`],
  ['context.update', 'each', `'box'`, `{ name: 'b' }`, `{ name: 'y' }`],
  ['context.create', 'each', `'box'`, `{ name: 'z' }`],
  ['context.remove', 'each', `'box'`, `{ name: 'z' }`],
  ['context.send', 'each', `'mail'`, `{ to: 'x', lines: [1, 2] }`],
]

const call = fc.constantFrom(...functions).chain(([name, part, ...fine]) =>
  fc.record({
    name: fc.constant(name),
    part: fc.constant(part),
    args: fc.tuple(
      ...fine.map((one) =>
        fc.oneof({ weight: 3, arbitrary: fc.constant(one) }, { weight: 2, arbitrary: fc.constantFrom(...hostile) }),
      ),
    ),
  }),
)

interface Call {
  name: string
  part: string
  args: string[]
}

const FUZZ = 'fuzz'
const lines = (calls: readonly Call[], part: string) =>
  calls
    .map((each, at) => (each.part === part ? `if (n === ${at}) (${each.name} as any)(${each.args.join(', ')})` : ''))
    .join('\n')

function world(calls: readonly Call[]): World {
  const code = (moment: string, each: string, load: string) => `import { defineHook } from 'patient-hook'
export default defineHook({ table: 'part', moment: '${moment}', watch: ['fuzz'], load({ rows, store }: any): any {
const row = rows[0]; const n = row.now.fuzz; const found = store.byId('part', [1]); const context: any = {}; void found; void context
${load}
}, each(row: any, _: unknown, context: any) {
const n = row.now.fuzz
${each}
} })`
  return new World({
    tables: {
      box: { fields: { name: text } },
      part: { fields: { name: text, qty: integer, box: link('box'), fuzz: integer } },
      other: { fields: { name: text, of: link('part'), seen: text } },
    },
    project: { sequences: { numbers: { prefix: 'N-', digits: 3 } } },
    hooks: {
      [FUZZ]: code('after-save', lines(calls, 'each'), lines(calls, 'load')),
      refusing: code('before-save', lines(calls, 'before'), ''),
      canary: `import { defineHook } from 'patient-hook'
export default defineHook({ table: 'other', moment: 'before-save', watch: ['of'],
  load: ({ rows, store }) => store.byId('part', rows.map((row) => row.now.of), ['name']),
  each(row, parts: any) { row.now.seen = parts.get(row.now.of)?.name ?? null } })`,
    },
  })
}

const schema = (w: World): unknown => w.store.rows('SELECT name, sql FROM sqlite_master ORDER BY name')

test('hostile arguments harm nothing but their own save', () => {
  fc.assert(
    fc.property(fc.array(call, { minLength: CALLS, maxLength: CALLS }), (calls) => {
      const w = world(calls)
      w.load('box', [{ id: 1, name: 'b' }])
      w.load('part', [{ id: 1, name: 'first', qty: 1, box: 1 }])
      const before = schema(w)
      calls.forEach((each, at) => {
        const [parts, boxes] = [w.all('part'), w.all('box')]
        const begun = performance.now()
        const { error, logs } = w.try([{ table: 'part', values: { name: 'n', fuzz: at } }])
        const told = JSON.stringify([error, logs])
        expect(performance.now() - begun).toBeLessThan(3000)
        expect(told, JSON.stringify(each)).not.toContain('touched')
        if (error) {
          // What an effect asks for may be refused by the checks of a record.
          if (!error.code.startsWith('check/')) {
            expect(error.hook, told).toMatch(/^(fuzz|refusing)$/)
            expect(error.file, told).toMatch(/^plugins\/p\/hooks\/(fuzz|refusing)\.ts$/)
            if (error.code.startsWith('hook/')) expect(error.line, told).toBeGreaterThan(0)
          }
          expect([w.all('part'), w.all('box')]).toEqual([parts, boxes])
        }
        const [seen] = w.put('other', { name: 'x', of: 1 })
        const first = w.all('part').find(({ id }) => id === 1)
        expect(seen!['seen']).toBe(first?.['name'] ?? null)
      })
      expect(schema(w)).toEqual(before)
    }),
    { numRuns: RUNS },
  )
})
