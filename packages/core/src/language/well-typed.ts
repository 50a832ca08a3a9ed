import { createHash } from 'node:crypto'
import ts from '#typescript'
import { importedPaths } from '../model/imports.js'
import { nativeCompiler } from './native-compiler.js'
import { KeptOnDisk } from '../disk/kept-on-disk.js'

/**
 * Which files of a project TypeScript has nothing to say of, kept on disk: a file is checked again when it, a module that it reaches by its imports,
 * or the declarations of the project have changed. Only that a file is well is kept.
 */

const kept = new KeptOnDisk<true>('well-typed')

/** A file that is not a module, or declares something for all, could change what others are. */
const forAll = (text: string): boolean =>
  !/^\s*(import|export)\b/m.test(text) || /\bdeclare\s+(global|module)\b|^\s*\/\/\/\s*</m.test(text)

export class WellTyped {
  readonly #imports = new Map<string, readonly string[] | null>()
  readonly #alone: boolean
  readonly #declared: string

  /** @param files code by path @param declarations of the project */
  constructor(
    private readonly files: ReadonlyMap<string, string>,
    declarations: string,
  ) {
    const by = nativeCompiler()?.version ?? ''
    this.#declared = createHash('sha256').update(`${by}\0${declarations}`).digest('hex')
    this.#alone = [...files.values()].every((text) => !forAll(text))
  }

  isKnown(path: string): boolean {
    const from = this.#from(path)
    return from !== null && kept.read(path, from) === true
  }

  note(path: string): void {
    const from = this.#from(path)
    if (from !== null) kept.write(path, from, true)
  }

  /** All files that the types of one depend on, itself and such that are not there among them; null where that is not certain. */
  reached(path: string): ReadonlySet<string> | null {
    if (!this.#alone) return null
    const reached = new Set([path])
    for (const each of reached) {
      const imports = this.#importsOf(each)
      if (imports === null) return null
      for (const other of imports) reached.add(other)
    }
    return reached
  }

  /** Represents all texts that the types of a file depend on; null where that is not certain. */
  #from(path: string): string | null {
    const reached = this.reached(path)
    if (reached === null) return null
    const hash = createHash('sha256').update(this.#declared)
    for (const each of reached) hash.update(`\0${each}\0${this.files.get(each) ?? ''}`)
    return hash.digest('hex')
  }

  #importsOf(path: string): readonly string[] | null {
    let imports = this.#imports.get(path)
    if (imports !== undefined) return imports
    const { importedFiles } = ts.preProcessFile(this.files.get(path) ?? '', true, true)
    const names = importedFiles.map(({ fileName }) => fileName).filter((name) => !/^patient-hook(\/test)?$/.test(name))
    const paths = names.map((name) => (name.startsWith('.') ? importedPaths(path, name) : null))
    // A file that is not there yet may come, and is then looked for first.
    imports = paths.includes(null) ? null : paths.flatMap((each) => each!)
    this.#imports.set(path, imports)
    return imports
  }
}
