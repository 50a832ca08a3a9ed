import { HookError, openWorkbench } from '@patient-hook/core'
import { describe, expect, test } from 'vitest'
import { filesOf, hook, text } from '../world.js'

/** Hooks that cannot be used: each is shown with file and line when it is loaded, in an engine's process. */

describe('what cannot even be loaded', () => {
  const open = async (body: string, more: Record<string, string> = {}) => {
    const files = filesOf({ tables: { item: { fields: { name: text } } }, hooks: { h: body } })
    const engines = openWorkbench({ ...Object.fromEntries(files), ...more }, { limits: { stallMs: 1000 }, size: 1 })
    try {
      await engines.call('testFiles', [undefined])
      return null
    } catch (error) {
      return (error as HookError).report
    } finally {
      await engines.close()
    }
  }
  const head = `import { defineHook } from 'patient-hook'\n`
  test.each([
    ['import()', hook(`{ table: 'item', moment: 'before-save',\n each() { import('fs') } }`), 'compile/dynamic-import', 3],
    ['eval', hook(`{ table: 'item', moment: 'before-save',\n each() { eval('1') } }`), 'hook/unavailable', 3],
    [
      'import of fs',
      `import fs from 'fs'\n` +
        head +
        `export default defineHook({ table: 'item', moment: 'before-save', each() { fs.readFileSync('x') } })`,
      'compile/import',
      1,
    ],
    [
      'a missing module',
      head +
        `import { x } from '../lib/gone'\nexport default defineHook({ table: 'item', moment: 'before-save', each() { x() } })`,
      'compile/import',
      2,
    ],
    ['a module outside of the plugin', head + `import x from '../../../project'\nexport default x`, 'compile/import', 2],
    ['broken syntax', head + `\nexport default defineHook({ table: }`, 'compile/syntax', 3],
    ['a loop while loading', head + `while (true) {}`, 'budget/spent', undefined],
    ['a runaway pattern while loading', head + `/^(a+)+$/.test('a'.repeat(40) + '!')`, 'budget/stopped', 2],
    ['no definition', `export const x = 1`, 'hook/no-definition', 1],
    ['a wrong table', hook(`{\n table: 'itm', moment: 'before-save', each() {} }`), 'hook/bad-definition', 3],
    ['a wrong moment', hook(`{ table: 'item',\n moment: 'before', each() {} }`), 'hook/bad-definition', 3],
    [
      'a label in watch',
      hook(`{ table: 'item', moment: 'before-save',\n watch: ['Name '], each() {} }`),
      'hook/bad-definition',
      3,
    ],
    ['an unknown part', hook(`{ table: 'item', moment: 'before-save',\n when: 1, each() {} }`), 'hook/bad-definition', 3],
    ['nothing to do', hook(`{ table: 'item', moment: 'before-save' }`), 'hook/bad-definition', 2],
    ['an async each', hook(`{ table: 'item', moment: 'before-save',\n async each() {} }`), 'hook/async', 3],
    [
      'finish in before-save',
      hook(`{ table: 'item', moment: 'before-save', each() {},\n finish() {} }`),
      'hook/bad-definition',
      3,
    ],
    [
      'after a hook that is not there',
      hook(`{ table: 'item', moment: 'before-save', each() {},\n after: ['x'] }`),
      'hook/bad-definition',
      3,
    ],
    ['an async arrow', hook(`{ table: 'item', moment: 'before-save',\n each: async () => {} }`), 'hook/async', 3],
    [
      'an async lambda within',
      hook(`{ table: 'item', moment: 'before-save',\n each() { void (async () => { for (;;) await null })() } }`),
      'hook/async',
      3,
    ],
    [
      'await at the top',
      head + `\nawait null\nexport default defineHook({ table: 'item', moment: 'before-save', each() {} })`,
      'hook/async',
      3,
    ],
    [
      'for await',
      hook(`{ table: 'item', moment: 'before-save', each(row: any) {\n for await (const x of row) void x } }`),
      'hook/async',
      3,
    ],
    [
      'a promise',
      hook(
        `{ table: 'item', moment: 'before-save', each() {\n Promise.resolve().then(() => /^(a+)+$/.test('a'.repeat(40) + 'b')) } }`,
      ),
      'hook/async',
      3,
    ],
    [
      'a promise under another name',
      head + `const P = Promise\nexport default defineHook({ table: 'item', moment: 'before-save', each() { P } })`,
      'hook/async',
      2,
    ],
    [
      'an async generator',
      head + `async function* g() {}\nexport default defineHook({ table: 'item', moment: 'before-save', each() { g() } })`,
      'hook/async',
      2,
    ],
    [
      'an async method of a class',
      head + `class A { async b() {} }\nexport default defineHook({ table: 'item', moment: 'before-save', each() { new A() } })`,
      'hook/async',
      2,
    ],
    ['a definition that is a proxy', `export default new Proxy({}, { get() { throw new Error('x') } })`, 'hook/no-definition', 1],
    [
      'a definition with parts that throw',
      head + `export default defineHook({\n get table(): never { throw new Error('odd') } } as never)`,
      'hook/bad-definition',
      undefined,
    ],
    [
      'a watch list that is a proxy',
      hook(
        `{ table: 'item', moment: 'before-save', each() {},\n watch: new Proxy([], { get() { throw new Error('odd') } }) as never }`,
      ),
      'hook/bad-definition',
      3,
    ],
    ['a module that throws an accessor', head + `throw { get message(): string { for (;;) ; } }`, 'hook/module-threw', 2],
    [
      'code nested too deeply',
      head + `const x = ${'['.repeat(3000)}${']'.repeat(3000)}\nexport default x`,
      'compile/too-deep',
      undefined,
    ],
    [
      'operators nested too deeply',
      head + `const x = ${'-'.repeat(0)}${'1 + '.repeat(20000)}1\nexport default x`,
      'compile/too-deep',
      undefined,
    ],
    ['after itself', hook(`{ table: 'item', moment: 'before-save', each() {},\n after: ['h'] }`), 'hook/bad-definition', 3],
  ])('%s', async (_, body, code, line) => {
    const error = await open(body)
    expect(error).toMatchObject({ code, file: 'plugins/p/hooks/h.ts', ...(line === undefined ? {} : { line }) })
    expect(error!.todo.length).toBeGreaterThan(10)
  })
})
