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
  ['packages/core/src/store/x.ts', '../engine/open-project.js'],
  ['packages/server/src/x.ts', '@patient-hook/web'],
  ['packages/server/src/x.ts', 'better-sqlite3'],
  ['packages/core/src/model/x.ts', '../findings/types.js'],
  ['packages/core/src/formats/x.ts', '../model/types.js'],
  ['packages/core/src/language/x.ts', '../sandbox/sandbox.js'],
  ['packages/core/src/sandbox/x.ts', '../save/save.js'],
  ['packages/core/src/rehearse/x.ts', '../prove/collect.js'],
  ['packages/core/src/save/x.ts', '../rehearse/sheet.js'],
  ['packages/contract/src/x.ts', '@patient-hook/core'],
  ['packages/web/src/x.ts', '@patient-hook/core'],
  ['packages/web/src/x.ts', '@patient-hook/server'],
])('%s may not import %s', async (file, module) => {
  expect(await problems(file, module)).toContain('no-restricted-imports')
})

test.each([
  ['packages/server/src/x.ts', '@patient-hook/core'],
  ['packages/cli/src/x.ts', '@patient-hook/server'],
  ['packages/core/src/save/x.ts', '../store/database.js'],
  ['packages/core/src/sandbox/x.ts', '../language/synchronous.js'],
  ['packages/web/src/x.ts', '@patient-hook/contract'],
  ['packages/web/src/x.ts', '@patient-hook/core/language'],
])('%s may import %s', async (file, module) => {
  expect(await problems(file, module)).toEqual([])
})

test('files that import each other in a circle are found', async () => {
  const file = join(root, 'packages/core/src/text.ts')
  const [result] = await eslint.lintText(
    `import { HookError } from './errors.js'\nexport const cut = String\nexport const LONGEST_MESSAGE = 1\nvoid HookError\n`,
    {
      filePath: file,
    },
  )
  expect(result!.messages.map((each) => each.ruleId)).toContain('import-x/no-cycle')
})
