import { existsSync, writeFileSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import type { Command } from 'commander'
import type { Project } from '@patient-hook/core'
import { makeFolder } from '@patient-hook/core/workbench'
import type { Recipe } from '@patient-hook/core/recipes'
import { print, usage } from '../output.js'
import { filesOf, writeEditorFiles } from '../project.js'

interface NewOptions {
  table?: string
  plugin?: string
  recipe?: string
  input: Record<string, string>
}

const HOOK_NAME = /^[a-z][a-z0-9-]*$/

export function addNew(program: Command): void {
  const create = program.command('new').description('Create a file of a project.')
  create
    .command('hook')
    .description('Create a hook, from a recipe with its unit test, or empty.')
    .argument('<name>', 'name of the hook, such as lot-bay-from-site')
    .argument('[folder]', 'the project folder', '.')
    .option('--table <table>', 'table whose saves run the hook')
    .option('--plugin <plugin>', 'plugin to add it to; default: the only one')
    .option('--recipe <recipe>', 'recipe to write it from; see "new recipes"')
    .option(
      '--input <name=value>',
      'answer to an input of the recipe, for example --input link=collection; repeat it',
      answerOf,
      {},
    )
    .addHelpText(
      'after',
      '\nExample:\n  patient-hook new hook lot-species . --table lot --recipe copy-from-parent \\\n' +
        '    --input link=collection --input from=species --input to=species',
    )
    .action(createHook)
  create.command('recipes').description('List the recipes and their inputs.').action(listRecipes)
}

function answerOf(typed: string, answers: Record<string, string>): Record<string, string> {
  const at = typed.indexOf('=')
  if (at < 1) throw usage(`--input takes name=value, but got ${JSON.stringify(typed)}`)
  return { ...answers, [typed.slice(0, at)]: typed.slice(at + 1) }
}

async function listRecipes(): Promise<void> {
  const { RECIPES } = await import('@patient-hook/core/recipes')
  for (const { name, description, inputs } of RECIPES) {
    print(`${name.padEnd(20)} ${description}`)
    for (const input of inputs)
      print(`${''.padEnd(20)}   --input ${input.name}=…  ${input.label}${input.optional ? ' (optional)' : ''}`)
  }
}

async function createHook(name: string, folder: string, options: NewOptions): Promise<void> {
  if (!HOOK_NAME.test(name))
    throw usage(`${JSON.stringify(name)} is not a hook name; use lower-case letters, digits and hyphens, starting with a letter`)
  const { parseProject } = await import('@patient-hook/core')
  const files = filesOf(folder)
  const project = parseProject(new Map(Object.entries(files)))
  const plugin = pluginOf(project, options.plugin)
  const taken = [...project.plugins.values()].flatMap(({ hooks }) => hooks).find((hook) => hook.name === name)
  if (taken) throw usage(`a hook with the name ${name} already exists: ${taken.file}`)
  const texts = await textsOf(project, name, options)
  const root = resolve(folder)
  const paths = { hook: `plugins/${plugin}/hooks/${name}.ts`, test: `plugins/${plugin}/tests/${name}.test.ts` }
  const existing = Object.values(paths).find((path) => existsSync(join(root, path)))
  if (existing !== undefined) throw usage(`${existing} already exists`)
  for (const [kind, text] of Object.entries(texts)) {
    const path = paths[kind as keyof typeof paths]
    makeFolder(dirname(join(root, path)))
    writeFileSync(join(root, path), text)
    print(`wrote ${path}`)
  }
  for (const path of await writeEditorFiles(root, filesOf(folder))) print(`wrote ${path}`)
  print(`\nNext: patient-hook test ${folder} --filter ${name}`)
}

function pluginOf(project: Project, named: string | undefined): string {
  const names = [...project.plugins.keys()]
  if (named === undefined && names.length === 1) return names[0]!
  if (named === undefined) throw usage(`--plugin is missing; choose one of: ${names.join(', ')}`)
  if (!project.plugins.has(named)) throw usage(`there is no plugin ${named}; choose one of: ${names.join(', ')}`)
  return named
}

/** The code of the hook and, from a recipe, of its test. @throws HookError where the answers do not suffice */
async function textsOf(project: Project, hook: string, options: NewOptions): Promise<{ hook: string; test?: string }> {
  const table = project.tables.get(options.table ?? '')
  if (!table) {
    const what = options.table === undefined ? '--table is missing' : `there is no table ${options.table}`
    throw usage(`${what}; choose one of: ${[...project.tables.keys()].join(', ')}`)
  }
  if (options.recipe === undefined) {
    const { newHookCode } = await import('@patient-hook/core/language')
    return { hook: newHookCode({ table: table.name, moment: 'before-save', on: ['create', 'update'], watch: [] }) }
  }
  const { RECIPES, answerProblem } = await import('@patient-hook/core/recipes')
  const recipe = RECIPES.find(({ name }) => name === options.recipe)
  if (!recipe) throw usage(`there is no recipe ${options.recipe}; choose one of: ${RECIPES.map(({ name }) => name).join(', ')}`)
  const unknown = Object.keys(options.input).find((input) => !recipe.inputs.some(({ name }) => name === input))
  if (unknown !== undefined) throw usage(`${recipe.name} has no input ${unknown}; its inputs are: ${inputsOf(recipe)}`)
  const model = { tables: [...project.tables.values()], sequences: [...project.sequences.keys()] }
  const request = { model, table, hook, answers: answersFor(recipe, options.input) }
  const problem = answerProblem(recipe, request)
  if (problem !== null) throw usage(`${recipe.name}: ${problem} Its inputs are: ${inputsOf(recipe)}`)
  return recipe.write(request)
}

const inputsOf = (recipe: Recipe): string => recipe.inputs.map(({ name }) => `--input ${name}=…`).join(' ')

/** Several fields are separated by commas. */
const answersFor = (recipe: Recipe, typed: Readonly<Record<string, string>>): Record<string, string | string[]> =>
  Object.fromEntries(
    Object.entries(typed).map(([input, value]) => {
      const several = recipe.inputs.some(({ name, kind }) => name === input && kind === 'fields')
      return [input, several ? value.split(',') : value]
    }),
  )
