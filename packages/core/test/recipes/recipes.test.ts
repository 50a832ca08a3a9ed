import { join } from 'node:path'
import { openWorkbench, parseProject, readFolder, runTests, type TryEngines } from '@patient-hook/core'
import { answerProblem, choicesFor, RECIPES, type Recipe, type RecipeContext } from '@patient-hook/core/recipes'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { filesOf, hook, link, number, text } from '../world.js'

/** Whatever a recipe writes compiles, has no finding, and passes its own test, which fails without the hook. */

const demo = new Map([...readFolder(join(import.meta.dirname, '../../../../demo'))].filter(([path]) => !path.startsWith('data/')))
const plain = filesOf({
  tables: {
    shelf: { fields: { label: text, limit: number, boxes: number }, required: ['label'] },
    box: { fields: { shelf: link('shelf'), weight: number, label: text, class: text }, required: ['shelf', 'weight'] },
  },
  hooks: { idle: hook(`{ table: 'box', moment: 'before-save', each() {} }`) },
})

/** A value that the field takes, as a user types it. */
const valueFor = ({ table, answers }: RecipeContext, input: string): string => {
  const field = table.fields.find(({ name }) => name === answers[input])
  return field?.format === 'date'
    ? '2025-12-24'
    : field?.format === 'date-time'
      ? '2025-12-24T18:00:00.000Z'
      : field?.pattern
        ? 'AB'
        : '3'
}

/** Answers that take the choice at a place for each input; null where the table has none. */
function answersAt(recipe: Recipe, { model, table }: Omit<RecipeContext, 'answers'>, place: number): RecipeContext | null {
  const answers: Record<string, string | string[]> = {}
  const context = { model, table, answers }
  for (const input of recipe.inputs) {
    const choices = choicesFor(input, context)
    const pick = choices?.[(place + recipe.inputs.indexOf(input)) % Math.max(1, choices.length)]?.value
    if (choices === null) answers[input.name] = input.kind === 'value' ? valueFor(context, input.of!) : 'desk'
    else if (pick !== undefined)
      answers[input.name] = input.kind === 'fields' ? choices.slice(0, 2).map(({ value }) => value) : pick
    else if (!input.optional) return null
  }
  return answerProblem(recipe, context) === null ? context : null
}

describe.each([
  ['the demo', demo],
  ['tables with required fields', plain],
])('%s', (_, files) => {
  const project = parseProject(files)
  const model = { tables: [...project.tables.values()], sequences: [...project.sequences.keys()] }
  const [plugin] = project.plugins.keys()
  let engines: TryEngines
  beforeAll(() => {
    engines = openWorkbench(Object.fromEntries(files), { size: 1 })
  })
  afterAll(() => engines.close())

  test.each(RECIPES.map((recipe) => [recipe.name, recipe] as const))('%s', async (_, recipe) => {
    const contexts = model.tables.flatMap((table) => [0, 1, 3].map((place) => answersAt(recipe, { model, table }, place)))
    const written = contexts
      .filter((context) => context !== null)
      .map((context, index) => ({ name: `recipe-${index}`, ...recipe.write({ ...context, hook: `recipe-${index}` }) }))
    if (files === demo) expect(written.length).toBeGreaterThan(0)
    const hooks = Object.fromEntries(written.map((each) => [`plugins/${plugin}/hooks/${each.name}.ts`, each.hook]))
    const tests = Object.fromEntries(written.map((each) => [`plugins/${plugin}/tests/${each.name}.test.ts`, each.test]))
    const { diagnostics, findings } = await engines.call('check', [{ ...Object.fromEntries(files), ...hooks, ...tests }], {
      bare: true,
    })
    expect(diagnostics.map(({ file, line, message }) => `${file}:${line} ${message}`)).toEqual([])
    // These two compare hooks that set the same field, which the recipes tried here do.
    const own = findings.filter(({ file, rule }) => file in hooks && rule !== 'two-writers' && rule !== 'reads-before-set')
    expect(own.filter(({ severity }) => severity !== 'hint').map((each) => `${each.rule} ${each.message}`)).toEqual([])
    const only = Object.keys(tests)
    const results = await runTests(engines, { drafts: { ...hooks, ...tests }, only })
    const failures = results.filter(({ status }) => status !== 'passed')
    expect(failures.map(({ file, error }) => `${error?.message}\n${tests[file]}`)).toEqual([])
    expect(results).toHaveLength(written.length)
    // With a hook of the same name that does nothing, the test fails: it proves something.
    const idle = Object.fromEntries(
      written.map((each, index) => {
        const table = contexts.filter((context) => context !== null)[index]!.table.name
        return [
          `plugins/${plugin}/hooks/${each.name}.ts`,
          `import { defineHook } from 'patient-hook'\nexport default defineHook({ table: '${table}', moment: 'before-save', each() {} })\n`,
        ]
      }),
    )
    const without = await runTests(engines, { drafts: { ...idle, ...tests }, only })
    expect(without.filter(({ status }) => status === 'passed').map(({ file }) => tests[file])).toEqual([])
  })
})

test('an answer that is not a choice is named, with the choices', () => {
  const project = parseProject(plain)
  const model = { tables: [...project.tables.values()], sequences: [] }
  const recipe = RECIPES.find(({ name }) => name === 'copy-from-parent')!
  const context = { model, table: project.tables.get('box')!, answers: { link: 'shelf', from: 'label', to: 'weight' } }
  expect(answerProblem(recipe, context)).toBe('"weight" is not a choice for "Field to fill". Choose one of: label, class.')
  expect(answerProblem(recipe, { ...context, answers: {} })).toBe('Choose a value for "Link to the parent".')
  const numbering = RECIPES.find(({ name }) => name === 'number')!
  expect(answerProblem(numbering, { ...context, answers: { field: 'label' } })).toBe(
    'Box has no choice for "Sequence". Add a sequence in the project settings first.',
  )
})
