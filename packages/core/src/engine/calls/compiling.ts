import { deserialize, serialize } from 'node:v8'
import { fieldsOf, noteFields, type HookFields } from '../../findings/hook-fields.js'
import { compileModule, type CompiledModule } from '../../sandbox/compile.js'
import { noteCompiled } from '../../sandbox/compile-once.js'
import { numberOf } from '../../watch.js'
import type { OpenProject } from '../open-project.js'

/** Files that are to be saved are compiled and analysed where things are tried, so that live saves do not wait for it. */

export interface CompiledAhead {
  /** Of each module, what the live engine would compile: bytes in base64. */
  modules: { file: string; text: string; compiled: string }[]
  hooks: { file: string; text: string; table: string; fields: HookFields }[]
}

/** The numbers that modules have in this engine: their code holds them. */
export const moduleNumbers = (_: OpenProject, files: readonly string[]): number[] => files.map((file) => numberOf('module', file))

/**
 * Compiles modules as another engine would have to.
 * @param modules with the number that each has in the engine that will run it
 * @throws HookError of the first that cannot be compiled
 */
export function compileAhead(_: OpenProject, modules: readonly { file: string; text: string; number: number }[]): CompiledAhead {
  const ahead: CompiledAhead = { modules: [], hooks: [] }
  for (const { file, text, number } of modules) {
    const compiled = compileModule(file, text, number)
    const { table } = compiled
    ahead.modules.push({ file, text, compiled: serialize(compiled).toString('base64') })
    if (table !== null) ahead.hooks.push({ file, text, table, fields: fieldsOf(file, text, table) })
  }
  return ahead
}

/** Takes over what another engine compiled. */
export function takeCompiled({ modules, hooks }: CompiledAhead): void {
  for (const { file, text, compiled } of modules)
    noteCompiled(file, text, 'plain', deserialize(Buffer.from(compiled, 'base64')) as CompiledModule)
  for (const { file, text, table, fields } of hooks) noteFields(file, text, table, fields)
}
