import { join } from 'node:path'
import { ESLint } from 'eslint'
import { expect, test } from 'vitest'

/** The direction of imports holds: one import against it fails, the same import along it passes. */
const root = join(import.meta.dirname, '../../..')
const eslint = new ESLint({ cwd: root })
const problems = async (file: string, module: string) => {
  const [result] = await eslint.lintText(`import '${module}'\n`, { filePath: join(root, file) })
  return result!.messages.map((each) => each.ruleId)
}

test.each([
  ['packages/core/src/model/x.ts', '@patient-hook/server'],
  ['packages/core/src/save/x.ts', 'express'],
  ['packages/core/src/model/x.ts', '../save/save.js'],
  ['packages/core/src/store/x.ts', '../engine/engine.js'],
  ['packages/server/src/x.ts', '@patient-hook/web'],
  ['packages/server/src/x.ts', 'better-sqlite3'],
  ['packages/web/src/x.ts', '@patient-hook/server'],
])('%s may not import %s', async (file, module) => {
  expect(await problems(file, module)).toContain('no-restricted-imports')
})

test.each([
  ['packages/server/src/x.ts', '@patient-hook/core'],
  ['packages/cli/src/x.ts', '@patient-hook/server'],
  ['packages/core/src/save/x.ts', '../store/database.js'],
])('%s may import %s', async (file, module) => {
  expect(await problems(file, module)).toEqual([])
})
