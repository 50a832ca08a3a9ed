import 'ses'
import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping'
import { HookError, type ErrorPlace } from '../errors.js'
import { importedPaths, pluginOf } from '../model/imports.js'
import { readCompiled, writeCompiled } from './compiled-cache.js'
import { compileModule, type CompiledModule, type Equipment } from './compile.js'
import { AT_WORK, atWork, CELL, nameOf, numberOf, readPlace, watchedCells } from '../watch.js'
import { FileCounts } from './file-counts.js'
import type { Meter } from './meter.js'
import type { Probe } from './probe.js'
import { readThrown } from './thrown.js'

/**
 * Runs plugin modules in hardened compartments. `lockdown` is called by the worker that hosts the engine (see
 * intrinsics.ts), not here, so that the core can be tested in a plain process too.
 */

interface CompartmentLike {
  globalThis: Record<string, unknown>
  evaluate(source: string): unknown
}
declare const Compartment: new (options?: object) => CompartmentLike

/** The language itself and nothing that reaches memory or the outside. Everything else is withheld. */
const ALLOWED = new Set(
  (
    'Array Object String Number Boolean Symbol BigInt Map Set WeakMap WeakSet Math JSON Date RegExp Error AggregateError EvalError ' +
    'RangeError ReferenceError SyntaxError TypeError URIError Proxy Reflect Iterator Infinity NaN undefined isFinite isNaN ' +
    'parseFloat parseInt decodeURI decodeURIComponent encodeURI encodeURIComponent escape unescape globalThis'
  ).split(' '),
)
/** Handed in as parameters: found faster than through the compartment's scope. */
const FAST = [
  'Array',
  'Object',
  'String',
  'Number',
  'Boolean',
  'Map',
  'Set',
  'Math',
  'JSON',
  'Date',
  'RegExp',
  'Error',
  'isNaN',
  'isFinite',
  'parseInt',
  'parseFloat',
  'Infinity',
  'NaN',
  'undefined',
]

const INSTEAD: Record<string, string> = {
  process: 'A hook has no process: take it out.',
  fetch: 'A hook cannot reach the network: send(channel, message) puts a message into the outbox.',
  require: "Write an import line at the top, of 'patient-hook' or the plugin's lib/.",
  setTimeout: 'Hooks are synchronous and have no timers.',
  setInterval: 'Hooks are synchronous and have no timers.',
  console: 'Use log(...) of the third argument.',
  crypto: 'There is no randomness in a hook: next(sequence) numbers records.',
  performance: 'Use clock of the third argument.',
  ArrayBuffer: 'Use plain arrays.',
  SharedArrayBuffer: 'Use plain arrays.',
  eval: 'Write the code itself.',
  Function: 'Write the code itself.',
  Promise: 'Hooks are synchronous: what a hook needs is read in load.',
}

/** Names that code might reach for: each says what to do instead of being undefined. */
const WITHHELD = [...new Set([...Object.getOwnPropertyNames(globalThis), ...Object.keys(INSTEAD)])].filter(
  (name) => !ALLOWED.has(name) && name !== 'require',
)

function withhold(scope: Record<string, unknown>): void {
  for (const name of WITHHELD)
    Object.defineProperty(scope, name, {
      configurable: true,
      get: () => {
        throw unavailable(name)
      },
      // A module of a plugin may still have a variable of that name.
      set: (value: unknown) => Object.defineProperty(scope, name, { value, writable: true, configurable: true }),
    })
}

const isTest = (file: string): boolean => file.endsWith('.test.ts')

const unavailable = (name: string): HookError =>
  new HookError('hook/unavailable', { name, instead: INSTEAD[name] ?? 'Define it, or import it from the plugin’s lib/.' })

export interface LoadedModule {
  compiled: CompiledModule
  exports: Record<string, unknown>
  /** Files that it imports. */
  uses: readonly string[]
  /** Its name in stacks. */
  unique: string
}

const prefix = 'ph:'
let loads = 0

/** Compiled modules by file: typing in one file compiles that one only. */
const compiledFiles = new Map<string, { text: string; compiled: CompiledModule }>()

/** @param keep on disk, too, where that is done: not what changes with every keystroke */
function compileOnce(file: string, text: string, equipment: Equipment, keep: boolean): CompiledModule {
  const key = `${file} ${equipment}`
  const known = compiledFiles.get(key)
  if (known?.text === text) return known.compiled
  const number = numberOf('module', file)
  const kept = readCompiled(file, text, number, equipment)
  const compiled = kept ?? compileModule(file, text, number, equipment)
  if (keep && !kept) writeCompiled(compiled, text, number, equipment)
  compiledFiles.set(key, { text, compiled })
  return compiled
}

/** Freezes functions, and plain lists and objects with what they hold; runs no code of them. */
function freezePlain(value: unknown): void {
  if (typeof value === 'function') Object.freeze(value)
  if (value === null || typeof value !== 'object' || Object.isFrozen(value)) return
  const prototype: unknown = Object.getPrototypeOf(value)
  if (!Array.isArray(value) && prototype !== Object.prototype && prototype !== null) return
  Object.freeze(value)
  for (const { value: part } of Object.values(Object.getOwnPropertyDescriptors(value)) as PropertyDescriptor[]) freezePlain(part)
}

export class Sandbox {
  /** Shared with the watching thread. */
  readonly cells = watchedCells()
  readonly meter: Meter
  readonly #modules = new Map<string, LoadedModule>()
  /** Source maps by the name a module has in stacks; read only when an error needs one. */
  readonly #maps = new Map<string, string | TraceMap>()
  readonly #builtins: Record<string, Record<string, unknown>>
  readonly #read: (file: string) => string | undefined
  readonly #probe: Probe | null
  readonly #keeps: (file: string) => boolean
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
    /** Modules of this one are taken over where neither their text nor that of what they import has changed. */
    like?: Sandbox
  }) {
    this.#probe = options.probe ?? null
    this.#keeps = options.keeps ?? (() => false)
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
    for (const [name, map] of like.#maps) if (this.#modules.has(name.replace(/^ph:\d+\//, ''))) this.#maps.set(name, map)
  }

  /** Loads a module and what it imports, each once. @throws HookError with file and line */
  load(file: string, trail: readonly string[] = []): LoadedModule {
    const known = this.#modules.get(file)
    if (known) return known
    const text = this.#read(file)
    if (text === undefined) throw new HookError('project/missing-file', { file })
    const compiled = compileOnce(file, text, this.#equipmentOf(file), this.#keeps(file))
    const unique = `${prefix}${loads++}/${file}`
    this.#maps.set(unique, compiled.map)
    const exports: Record<string, unknown> = {}
    const targets = compiled.imports.map(({ module: name, line }) => this.#resolve(file, name, line))
    const module: LoadedModule = { compiled, exports, unique, uses: targets.filter((each) => typeof each === 'string') }
    this.#modules.set(file, module)
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
        this.#modules.delete(file)
        throw this.toHookError(error, { file }, 'hook/module-threw')
      }
    })
    return module
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

  /** Runs a module's code in a compartment of its own, which reaches the language and what it imports. */
  #run(compiled: CompiledModule, unique: string, exports: Record<string, unknown>, require: (name: unknown) => unknown): void {
    const compartment = new Compartment({ name: compiled.file })
    for (const name of Object.getOwnPropertyNames(compartment.globalThis))
      if (!ALLOWED.has(name)) delete compartment.globalThis[name]
    withhold(compartment.globalThis)
    const { names } = compiled
    const given: Record<string, unknown> = {
      [names.meter]: this.meter,
      [names.place]: this.cells,
      ...(this.#probe ? { [names.probe]: this.#probe } : {}),
      ...this.#countersOf(compiled),
      exports,
      require,
    }
    const fast = FAST.filter((name) => name in compartment.globalThis)
    const parameters = [...Object.keys(given), ...fast].join(', ')
    // The module's own function is called with nothing, so that `arguments` of it holds nothing.
    const source = `(function (${parameters}) { return function () {${compiled.code}\n} })\n//# sourceURL=${unique}`
    const make = compartment.evaluate(source) as (...values: unknown[]) => () => void
    make.call(undefined, ...Object.values(given), ...fast.map((name) => compartment.globalThis[name])).call(undefined)
  }

  /** Compiles a module without running it. @throws HookError with file and line */
  compile(file: string): void {
    const text = this.#read(file)
    if (text === undefined) throw new HookError('project/missing-file', { file })
    for (const { module, line } of compileOnce(file, text, this.#equipmentOf(file), this.#keeps(file)).imports)
      this.#resolve(file, module, line)
  }

  /** The next load runs the module again, as a test file must be to tell its tests. */
  forget(file: string): void {
    const module = this.#modules.get(file)
    if (!module) return
    this.#modules.delete(file)
    this.#maps.delete(module.unique)
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
    const builtin = this.#builtins[name]
    if (builtin) return builtin
    const fail = (detail: string) => new HookError('compile/import', { file: from, line, module: name, detail })
    if (!name.startsWith('.')) {
      const also = Object.keys(this.#builtins)
        .map((each) => `'${each}'`)
        .join(', ')
      throw fail(`a hook can import ${also} and modules of its own plugin only`)
    }
    const paths = importedPaths(from, name)
    if (!paths) throw fail(`it lies outside of ${pluginOf(from)}/`)
    const file = paths.find((each) => this.#read(each) !== undefined)
    if (!file) throw fail(`there is no file ${paths[0]}`)
    return file
  }

  /** The place in the TypeScript source that a stack names first. */
  #placeIn(stack: string): { file: string; line: number; column: number } | null {
    for (const match of stack.matchAll(/(ph:\d+\/[^\s():]+):(\d+):(\d+)/g)) {
      const map = this.#mapOf(match[1]!)
      if (!map) continue
      const original = originalPositionFor(map, { line: Number(match[2]), column: Math.max(0, Number(match[3]) - 1) })
      if (original.line !== null)
        return { file: match[1]!.replace(/^ph:\d+\//, ''), line: original.line, column: original.column + 1 }
    }
    return null
  }

  /** The line of hook code that calls us now. */
  caller(): { file: string; line: number } | null {
    return this.#placeIn(new Error('here').stack ?? '')
  }

  /** Where hook code was when it last called something; for a thrown value that tells nothing itself. */
  #lastPlace(): { file: string; line: number } | null {
    const { module, line } = readPlace(this.cells[CELL.place]!)
    const file = module > 0 ? nameOf('module', module) : undefined
    return file !== undefined && line > 0 ? { file, line } : null
  }

  #mapOf(name: string): TraceMap | undefined {
    const map = this.#maps.get(name)
    if (typeof map !== 'string') return map
    const read = new TraceMap(map)
    this.#maps.set(name, read)
    return read
  }

  /** Turns whatever hook code threw into an error with place and a message that says what to do; runs no code of it. */
  toHookError(
    error: unknown,
    place: Partial<ErrorPlace>,
    code: 'hook/threw' | 'hook/module-threw' | 'test/failed' = 'hook/threw',
  ): HookError {
    if (HookError.is(error)) return new HookError({ ...place, ...this.#placeIn(error.stack ?? ''), ...error.report })
    const { name, message, stack } = readThrown(error)
    const at = stack === null ? this.#lastPlace() : this.#placeIn(stack)
    const where = { ...place, ...at }
    const missing = /^(\w+) is not defined$/.exec(message)
    if (missing) return new HookError({ ...where, ...unavailable(missing[1]!).report })
    if (/secure mode|%SharedDate%|%SharedMath%/.test(message))
      return new HookError('hook/unavailable', {
        ...where,
        name: /random/.test(message) ? 'Math.random()' : 'the machine’s clock',
        instead: 'Use clock of the third argument; a hook that gives the same values again can be tested.',
      })
    if (
      /Cannot (assign to read only property|add property|delete property|define property|redefine property)|object is not extensible/.test(
        message,
      )
    )
      return new HookError('hook/readonly', {
        ...where,
        detail: `${message.replace(/ of object .*$/, '')}: it is read only here`,
      })
    return new HookError(code, { ...where, detail: name === null || name === 'Error' ? message : `${name}: ${message}` })
  }
}
