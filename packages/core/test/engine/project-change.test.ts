import { withProjectChange } from '@patient-hook/contract/project-change'
import fc from 'fast-check'
import type { ProjectChange, ProjectInfo } from '@patient-hook/contract'
import { expect, test } from 'vitest'
import type { Hook } from '../../src/save/hook.js'
import { TestEngine } from '../test-engine.js'
import { filesOf, hook, text } from '../world.js'

/** A user who follows the changes of a project, one at a time, knows what one who opens it now is reported; and so does what runs. */

const FILES = Object.fromEntries(
  filesOf({
    tables: { item: { fields: { name: text, mark: text, size: { type: 'integer' } } }, box: { fields: { name: text } } },
    hooks: { mark: hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.mark = 'a' } }`) },
    lib: { words: `export const TABLE = 'item'\nexport const WORD = 'b'\n` },
    fixtures: { few: { item: [{ id: 1, name: 'a' }] } },
  }),
)

const at = (name: string, folder = 'hooks') => `plugins/p/${folder}/${name}.ts`
/** Text of a hook; of those that go without each other, so that any of them can be there or not. */
const TEXTS = [
  hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.mark = 'a' } }`),
  hook(`{ table: 'item', moment: 'before-save', watch: ['name'], each(row) { row.now.size = row.now.name.length } }`),
  hook(`{ table: 'item', moment: 'after-save', on: ['create'], each(row, batch) { void row.now.mark } }`),
  hook(`{ table: 'box', moment: 'before-save', each(row) { row.now.name = 'box' } }`),
  `import { TABLE, WORD } from '../lib/words'\n${hook(`{ table: TABLE, moment: 'before-save', each(row) { row.now.mark = WORD } }`)}`,
  `${hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.mark = String(count++) } }`)}\nlet count = 0\n`,
]
const plugin = (hooks: object) => JSON.stringify({ name: 'p', version: '1.0.0', hooks })

const NONE: Record<string, string | null> = {}
type Step = (engine: TestEngine) => Record<string, string | null>
const steps = fc.oneof(
  fc
    .tuple(fc.constantFrom('mark', 'h2', 'h10', 'z'), fc.constantFrom(...TEXTS), fc.nat(3))
    .map(([name, of, blank]): Step => () => ({ [at(name)]: of + '\n'.repeat(blank) })),
  fc.constantFrom('mark', 'h2', 'h10', 'z').map(
    (name): Step =>
      (engine) =>
        at(name) in engine.files() ? { [at(name)]: null, 'plugins/p/plugin.json': plugin({}) } : NONE,
  ),
  fc
    .constantFrom('item', 'box')
    .map((table): Step => () => ({ [at('words', 'lib')]: `export const TABLE = '${table}'\nexport const WORD = 'c'\n` })),
  fc
    .constantFrom('1.0.0', '1.1.0')
    .map((version): Step => () => ({ 'plugins/p/plugin.json': JSON.stringify({ name: 'p', version }) })),
  fc.constantFrom('mark', 'h2').map(
    (name): Step =>
      (engine) =>
        at(name) in engine.files() ? { 'plugins/p/plugin.json': plugin({ [name]: { off: true } }) } : NONE,
  ),
  fc.constantFrom('[]', '[{ "id": 1 }, { "id": 2 }]').map((json): Step => () => ({ 'fixtures/few/item.json': json })),
  fc.constant<Step>(() => ({ 'plugins/q/plugin.json': '{ "name": "q" }' })),
  fc.constant<Step>((engine) => ('plugins/q/plugin.json' in engine.files() ? { 'plugins/q/plugin.json': null } : NONE)),
)

/** All but what is another one for everybody who asks. */
const bare = ({ revision: _, ...info }: ProjectInfo) => info
const shown = ({ origin: _, number: __, on, touches, parts, ...hook }: Hook) => ({
  ...JSON.parse(JSON.stringify(hook)),
  calls: [hook.only, hook.load, hook.each, hook.finish].map(String),
  on: [...on],
  touches: touches && [...touches],
  parts: [...parts],
})

function fresh<T>(files: Record<string, string>, look: (engine: TestEngine, info: ProjectInfo) => T): T {
  const engine = new TestEngine()
  try {
    return look(engine, engine.open(files))
  } finally {
    engine.close()
  }
}

test('changes in sequence come to what a new start tells, and hooks to what they are then', () => {
  fc.assert(
    fc.property(fc.array(steps, { minLength: 1, maxLength: 8 }), (all) => {
      const engine = new TestEngine()
      try {
        let known = engine.open(FILES)
        for (const step of all) {
          const before = engine.files()
          const files = step(engine)
          const told = engine.putFiles(files)
          const change = JSON.parse(JSON.stringify(told.change)) as ProjectChange
          known = withProjectChange(known, change)!
          const differ = Object.keys(files).filter((path) => (before[path] ?? null) !== files[path])
          expect(change.files.sort()).toEqual(differ.sort())
          expect(told.files).toEqual(Object.fromEntries(differ.map((path) => [path, files[path]])))
          fresh(engine.files(), (other, info) => {
            expect(bare(known)).toEqual(bare(info))
            expect(engine.program().hooks.map(shown)).toEqual(other.program().hooks.map(shown))
          })
        }
      } finally {
        engine.close()
      }
    }),
    { numRuns: 60 },
  )
})

test('of what is as it was, nothing is reported, and lists stay the same ones', () => {
  const engine = new TestEngine()
  const before = engine.open(FILES)
  const { change } = engine.putFiles({ [at('mark')]: TEXTS[1]! })
  expect(change).toMatchObject({
    since: before.revision,
    files: [at('mark')],
    tables: { names: null, items: [] },
    plugins: { names: null, items: [] },
    hooks: { names: null, items: [{ name: 'mark', watch: ['name'] }] },
    fixtures: { names: null, items: [] },
  })
  const after = withProjectChange(before, change)!
  expect(after.tables).toBe(before.tables)
  expect(after.hooks[0]).not.toBe(before.hooks[0])
  // A user who has another revision has to ask for the project.
  expect(withProjectChange(after, change)).toBeNull()
  engine.close()
})

test('a table that goes is reported by the names of those that stay', () => {
  const engine = new TestEngine()
  const before = engine.open(FILES)
  const { change, files } = engine.changeModel({ table: 'box', edit: null }, true)
  expect(change.tables).toEqual({ names: ['item'], items: [] })
  expect(files).toEqual({ 'tables/box.json': null })
  expect(withProjectChange(before, change)!.tables.map(({ name }) => name)).toEqual(['item'])
  engine.close()
})
