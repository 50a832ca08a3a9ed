import { numberOf } from '../watch.js'
import { lacksCompiled, readCompiled, writeCompiled } from './compiled-cache.js'
import { compileModules, type CompiledModule, type Equipment } from './compile.js'

/** Compiled modules by file: typing in one file compiles that one only. */
const compiledFiles = new Map<string, { text: string; compiled: CompiledModule }>()

/** Another engine compiled it, for this one's number of the module. */
export function noteCompiled(file: string, text: string, equipment: Equipment, compiled: CompiledModule): void {
  compiledFiles.set(`${file} ${equipment}`, { text, compiled })
}

/**
 * @param keep on disk, too, where that is done: not what changes with every keystroke
 * @param ahead kept on disk as well
 */
export function compileOnce(
  file: string,
  text: string,
  equipment: Equipment,
  keep: boolean,
  ahead: Equipment | null,
): CompiledModule {
  const key = `${file} ${equipment}`
  const known = compiledFiles.get(key)
  if (known?.text === text) return known.compiled
  const number = numberOf('module', file)
  const kept = readCompiled(file, text, number, equipment)
  const missing = [...(kept ? [] : [equipment]), ...(ahead && lacksCompiled(file, text, number, ahead) ? [ahead] : [])]
  const made = missing.length > 0 ? compileModules(file, text, number, missing) : []
  if (keep) missing.forEach((each, at) => writeCompiled(made[at]!, text, number, each))
  const compiled = kept ?? made[0]!
  compiledFiles.set(key, { text, compiled })
  return compiled
}
