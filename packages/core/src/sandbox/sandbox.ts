import { createHash } from 'node:crypto'
import { attempt } from '../attempt.js'
import { isKeptOnDisk } from '../disk/kept-on-disk.js'
import { HookError, type ErrorPlace } from '../errors.js'
import { importedPaths, pluginOf } from '../model/imports.js'
import type { CompiledModule, Equipment } from './compile.js'
import { compileOnce } from './compile-once.js'
import { AT_WORK, atWork, watchedCells } from '../watch.js'
import { FileCounts } from './file-counts.js'
import type { Meter } from './meter.js'
import { Places, stackName, type ThrownCode } from './places.js'
import type { Probe } from './probe.js'
import { FAST, makeCompartment } from './reach.js'
import { freezePlain, sealFunctionsOf } from './seal.js'

/**
 * Runs plugin modules in hardened compartments. `lockdown` is called by the worker that hosts the engine (see
 * intrinsics.ts), not here, so that the core can be tested in a plain process too.
 */

const isTest = (file: string): boolean => file.endsWith('.test.ts')

export interface LoadedModule {
  compiled: CompiledModule
  exports: Record<string, unknown>
  /** Files that it imports. */
  uses: readonly string[]
  /** Its name in stacks. */
  unique: string
  /** Until then it exports nothing. */
  hasRun: boolean
}

/** It gives functions, and nothing is done by importing it. */
const PLAIN_BUILTIN = 'patient-hook'

const digests = new Map<string, { text: string; digest: string }>()

function digestOf(file: string, text: string): string {
  const known = digests.get(file)
  if (known?.text === text) return known.digest
  const digest = createHash('sha256').update(text).digest('base64')
  digests.set(file, { text, digest })
  return digest
}

/** What a module that keeps nothing does last. */
const sealing = ({ names, sealed }: CompiledModule): string =>
  sealed.length === 0 ? '' : `;${names.seal}([${sealed.join(', ')}])\n`

export class Sandbox {
  /** Shared with the watching thread. */
  readonly cells = watchedCells()
  readonly meter: Meter
  readonly #modules = new Map<string, LoadedModule>()
  readonly #places = new Places(this.cells)
  readonly #builtins: Record<string, Record<string, unknown>>
  readonly #read: (file: string) => string | undefined
  readonly #probe: Probe | null
  readonly #keeps: (file: string) => boolean
  readonly #ahead: Equipment | null
  /** By file; null where nothing is counted. */
  readonly counts: Map<string, FileCounts> | null

  constructor(options: {
    read: (file: string) => string | undefined
    builtins: Record<string, Record<string, unknown>>
    meter: Meter
    /** With it, code is recorded. */
    probe?: Probe
    /** Statements and branches of hooks and their modules are counted; those of tests are not. */
    counted?: boolean
    /** Is the file's compiled code worth keeping for other processes? Default: no. */
    keeps?: (file: string) => boolean
    /** So that other processes need not: compiled in this way and kept, too. Default: none. */
    ahead?: Equipment | undefined
    /** Modules of this one are taken over where neither their text nor that of what they import has changed. */
    like?: Sandbox
  }) {
    this.#probe = options.probe ?? null
    this.#keeps = options.keeps ?? (() => false)
    this.#ahead = options.ahead ?? null
    this.counts = options.counted ? new Map() : null
    this.meter = options.meter
    this.#read = options.read
    this.#builtins = options.builtins
    if (options.like) this.#takeOver(options.like)
  }

  /** Taken-over modules report to the meter, the cells and the probe that they were loaded with: these must be the same. */
  #takeOver(like: Sandbox): void {
    const asked = new Map<string, boolean>()
    const same = (file: string): boolean => {
      const known = asked.get(file)
      if (known !== undefined) return known
      asked.set(file, true)
      const text = this.#read(file)
      const answer = text !== undefined && text === like.#read(file) && (like.#modules.get(file)?.uses ?? []).every(same)
      asked.set(file, answer)
      return answer
    }
    for (const [file, module] of like.#modules) if (same(file)) this.#modules.set(file, module)
    for (const [file, counts] of like.counts ?? []) if (this.#modules.has(file)) this.counts?.set(file, counts)
    this.#places.takeOver(like.#places, (file) => this.#modules.has(file))
  }

  /** Compiles a module, and runs neither it nor what it imports. @throws HookError with file and line */
  prepare(file: string): LoadedModule {
    const known = this.#modules.get(file)
    if (known) return known
    const text = this.#read(file)
    if (text === undefined) throw new HookError('project/missing-file', { file })
    const compiled = this.#compiled(file, text)
    const unique = stackName(file)
    this.#places.add(unique, compiled.map)
    const exports = Object.create(null, { __esModule: { value: true } }) as Record<string, unknown>
    const targets = compiled.imports.map(({ module: name, line }) => this.#resolve(file, name, line))
    const uses = targets.filter((each) => typeof each === 'string')
    const module: LoadedModule = { compiled, exports, unique, uses, hasRun: false }
    this.#modules.set(file, module)
    return module
  }

  /** Loads a module and what it imports, each once. @throws HookError with file and line */
  load(file: string, trail: readonly string[] = []): LoadedModule {
    const module = this.prepare(file)
    if (module.hasRun) return module
    module.hasRun = true
    const { compiled, exports, unique } = module
    const require = (name: unknown) => {
      const line = compiled.imports.find((each) => each.module === name)?.line
      const target = this.#resolve(file, String(name), line)
      if (typeof target !== 'string') return target
      if (trail.includes(target))
        throw new HookError('compile/import', {
          file,
          line,
          module: String(name),
          detail: `the modules import each other in a circle (${[...trail, file, target].join(' → ')})`,
        })
      return this.load(target, [...trail, file]).exports
    }
    atWork(AT_WORK.module, () => {
      try {
        this.#run(compiled, unique, exports, require)
        this.counts?.get(file)?.keepLoading()
        // What a module gives is the same for all who import it.
        freezePlain(exports)
      } catch (error) {
        module.hasRun = false
        this.#modules.delete(file)
        throw this.toHookError(error, { file }, 'hook/module-threw')
      }
    })
    return module
  }

  /** Loads a module that was put off until now: its work is not part of a save, so its steps are not counted. @throws HookError */
  loadLate(file: string): LoadedModule {
    const { n, m, limit } = this.meter
    Object.assign(this.meter, { m: Number.MAX_SAFE_INTEGER, limit: null })
    try {
      return this.load(file)
    } finally {
      Object.assign(this.meter, { n, m, limit })
    }
  }

  /**
   * All that a module is made of: files and what is in them. Null where it may give something else the next time, or where that is not to be kept.
   * @param file of a prepared module
   */
  textsOf(file: string): string | null {
    if (!isKeptOnDisk() || this.counts) return null
    const parts = new Map<string, string>()
    const add = (each: string): boolean => {
      if (parts.has(each)) return true
      if (!this.#keeps(each)) return false
      const { compiled, uses } = this.prepare(each)
      if (compiled.keepsState || compiled.imports.some(({ module }) => !module.startsWith('.') && module !== PLAIN_BUILTIN))
        return false
      parts.set(each, digestOf(each, this.#read(each)!))
      return uses.every(add)
    }
    // What is wrong with a module that it imports is shown when it is loaded.
    if (!attempt(() => add(file))) return null
    return [...parts].map((part) => part.join(' ')).join('\n')
  }

  #compiled(file: string, text: string): CompiledModule {
    return compileOnce(file, text, this.#equipmentOf(file), this.#keeps(file), this.#ahead)
  }

  #equipmentOf(file: string): Equipment {
    if (this.#probe) return 'probed'
    return this.counts && !isTest(file) ? 'counted' : 'plain'
  }

  /** The counters that a module's code counts with; those of a module that is run again go on. */
  #countersOf({ file, counted }: CompiledModule): Record<string, unknown> {
    if (!counted || !this.counts) return {}
    let counts = this.counts.get(file)
    if (counts?.of !== counted.data) this.counts.set(file, (counts = new FileCounts(counted.data)))
    const { data } = counts
    return { [counted.counters]: () => data }
  }

  /** Runs a module's code in its own compartment, which reaches the language and what it imports. */
  #run(compiled: CompiledModule, unique: string, exports: Record<string, unknown>, require: (name: unknown) => unknown): void {
    const compartment = makeCompartment(compiled.file)
    const { names } = compiled
    const given: Record<string, unknown> = {
      [names.meter]: this.meter,
      [names.place]: this.cells,
      ...(this.#probe ? { [names.probe]: this.#probe } : {}),
      ...this.#countersOf(compiled),
      [names.exports]: exports,
      [names.require]: require,
      [names.seal]: sealFunctionsOf,
    }
    const fast = FAST.filter((name) => name in compartment.globalThis)
    const parameters = [...Object.keys(given), ...fast].join(', ')
    // The module's own function is called with nothing, so that `arguments` of it holds nothing.
    // Lines before the code: HEAD_LINES of places.ts.
    const source = `(function (${parameters}) { return function () {\n${compiled.code}\n${sealing(compiled)}} })\n//# sourceURL=${unique}`
    const make = compartment.evaluate(source) as (...values: unknown[]) => () => void
    make.call(undefined, ...Object.values(given), ...fast.map((name) => compartment.globalThis[name])).call(undefined)
  }

  /** Compiles a module without running it. @throws HookError with file and line */
  compile(file: string): void {
    const text = this.#read(file)
    if (text === undefined) throw new HookError('project/missing-file', { file })
    for (const { module, line } of this.#compiled(file, text).imports) this.#resolve(file, module, line)
  }

  /** The next load runs the module again, as a test file must be to tell its tests. */
  forget(file: string): void {
    const module = this.#modules.get(file)
    if (!module) return
    this.#modules.delete(file)
    this.#places.forget(module.unique)
  }

  /** May the module, or one that it imports, keep something from one call to the next? @param file of a loaded module */
  keepsState(file: string): boolean {
    const module = this.#modules.get(file)
    return module !== undefined && (module.compiled.keepsState || module.uses.some((each) => this.keepsState(each)))
  }

  /** The next load of any module that may keep something runs it again. */
  forgetState(): void {
    for (const file of [...this.#modules.keys()].filter((each) => this.keepsState(each))) this.forget(file)
  }

  /** The file that an import names, or the built-in module. */
  #resolve(from: string, name: string, line: number | undefined): string | Record<string, unknown> {
    if (Object.hasOwn(this.#builtins, name)) return this.#builtins[name]!
    const fail = (detail: string) => new HookError('compile/import', { file: from, line, module: name, detail })
    if (!name.startsWith('.')) {
      const also = Object.keys(this.#builtins)
        .map((each) => `'${each}'`)
        .join(', ')
      throw fail(`a hook can only import ${also} and modules of its plugin`)
    }
    const paths = importedPaths(from, name)
    if (!paths) throw fail(`it lies outside of ${pluginOf(from)}/`)
    const file = paths.find((each) => this.#read(each) !== undefined)
    if (!file) throw fail(`there is no file ${paths[0]}`)
    return file
  }

  /** The line of hook code that calls us now. */
  caller(): { file: string; line: number } | null {
    return this.#places.caller()
  }

  /** Turns whatever hook code threw into an error with place and a message that says what to do; runs no code of it. */
  toHookError(error: unknown, place: Partial<ErrorPlace>, code?: ThrownCode): HookError {
    return this.#places.toHookError(error, place, code)
  }
}
