import { createHash } from 'node:crypto'
import { mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { deserialize, serialize } from 'node:v8'
import type { CompiledModule, Equipment } from './compile.js'

/**
 * Compiled modules on disk, in node_modules/.cache: a process that starts need not compile again what one before it has compiled. What is
 * kept is bounded by the files of projects, since a module takes the place of its earlier text. Nothing depends on it: what cannot be read
 * is compiled, and what cannot be written is not kept.
 */

interface Entry {
  text: string
  compiled: CompiledModule
}

let folder: string | null = null

/** From now on compiled modules are kept. For processes that run projects, not for tests of the compiler. */
export function keepCompiled(): void {
  folder ??= attempt(() => join(cacheFolder(), `compiled-${compilerName()}`)) ?? null
}

/** @param number of the module, which its code holds */
export function readCompiled(file: string, text: string, number: number, equipment: Equipment): CompiledModule | null {
  if (folder === null) return null
  const entry = attempt(() => deserialize(readFileSync(pathOf(file, number, equipment))) as Entry)
  return entry?.text === text ? entry.compiled : null
}

export function writeCompiled(compiled: CompiledModule, text: string, number: number, equipment: Equipment): void {
  if (folder === null) return
  const path = pathOf(compiled.file, number, equipment)
  attempt(() => {
    mkdirSync(folder!, { recursive: true })
    const own = `${path}.${process.pid}`
    writeFileSync(own, serialize({ text, compiled } satisfies Entry))
    renameSync(own, path)
  })
}

const pathOf = (file: string, number: number, equipment: Equipment): string =>
  join(folder!, createHash('sha256').update(`${file}\0${number}\0${equipment}`).digest('hex').slice(0, 32))

const cacheFolder = (): string =>
  join(dirname(createRequire(import.meta.url).resolve('typescript/package.json')), '..', '.cache', 'patient-hook')

/** Differs whenever the compiler differs: ours, TypeScript, or V8, in whose form it is written. */
function compilerName(): string {
  const hash = createHash('sha256').update(process.version)
  hash.update(readFileSync(createRequire(import.meta.url).resolve('typescript/package.json')))
  // Of the package as it was built, wherever in it this stands.
  const built = join(dirname(fileURLToPath(import.meta.url)), '..')
  for (const part of ['sandbox', 'language', 'findings'].map((name) => join(built, name)))
    for (const name of readdirSync(part)
      .filter((each) => each.endsWith('.js'))
      .sort())
      hash.update(`${name}\0`).update(readFileSync(join(part, name)))
  return hash.digest('hex').slice(0, 16)
}

function attempt<T>(work: () => T): T | undefined {
  try {
    return work()
  } catch {
    return undefined
  }
}
