import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping'
import { HookError, type ErrorPlace } from '../errors.js'
import { CELL, nameOf, readPlace, type Cells } from '../watch.js'
import type { CodeMap } from './javascript.js'
import { unavailable } from './reach.js'
import { placeBefore } from './text-edits.js'
import { readThrown } from './thrown.js'

/** Where hook code is, or was when it threw, in the TypeScript that somebody wrote; and what it threw, as an error of ours. */

/** Lines of what is evaluated that stand before a module's own. */
export const HEAD_LINES = 1

/** Of the names of all modules in stacks. */
export const STACK_PREFIX = 'ph:'

let loads = 0

/** The name that a module has in stacks, another one each time it is loaded. */
export const stackName = (file: string): string => `${STACK_PREFIX}${loads++}/${file}`

const fileOf = (name: string): string => name.replace(/^ph:\d+\//, '')

/** As what it is reported. */
export type ThrownCode = 'hook/threw' | 'hook/module-threw' | 'test/failed'

export class Places {
  /** By the name a module has in stacks. */
  readonly #maps = new Map<string, CodeMap>()
  /** Source maps, read when an error needs one. */
  readonly #traces = new WeakMap<CodeMap, TraceMap>()

  /** @param cells shared with the watching thread, the first of which holds the place */
  constructor(private readonly cells: Cells) {}

  /** @param name in stacks */
  add(name: string, map: CodeMap): void {
    this.#maps.set(name, map)
  }

  forget(name: string): void {
    this.#maps.delete(name)
  }

  /** Takes over what another one knows of these files. */
  takeOver(others: Places, has: (file: string) => boolean): void {
    for (const [name, map] of others.#maps) if (has(fileOf(name))) this.#maps.set(name, map)
  }

  /** The place in the TypeScript source that a stack names first. */
  #placeIn(stack: string): { file: string; line: number; column: number } | null {
    for (const match of stack.matchAll(/(ph:\d+\/[^\s():]+):(\d+):(\d+)/g)) {
      const map = this.#maps.get(match[1]!)
      if (!map) continue
      const original = this.#original(map, Number(match[2]) - HEAD_LINES, Number(match[3]) - 1)
      if (original) return { file: fileOf(match[1]!), line: original.line, column: original.column + 1 }
    }
    return null
  }

  /** The line of hook code that calls us now. */
  caller(): { file: string; line: number } | null {
    return this.#placeIn(new Error('here').stack ?? '')
  }

  /** Where hook code was when it last called something; for a thrown value that reports nothing itself. */
  #lastPlace(): { file: string; line: number } | null {
    const { module, line } = readPlace(this.cells[CELL.place]!)
    const file = module > 0 ? nameOf('module', module) : undefined
    return file !== undefined && line > 0 ? { file, line } : null
  }

  /** @param line from 1 @param column from 0 */
  #original(map: CodeMap, line: number, column: number): { line: number; column: number } | null {
    const before = placeBefore(map.added, line - 1, column)
    if (map.further === null) return { line: before.line + 1, column: before.column }
    let trace = this.#traces.get(map)
    if (!trace) this.#traces.set(map, (trace = new TraceMap(map.further)))
    const original = originalPositionFor(trace, { line: before.line + 1, column: Math.max(0, before.column) })
    return original.line === null ? null : original
  }

  /** Turns whatever hook code threw into an error with place and a message that says what to do; runs no code of it. */
  toHookError(error: unknown, place: Partial<ErrorPlace>, code: ThrownCode = 'hook/threw'): HookError {
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
