import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping'
import { HookError, type ErrorPlace } from '../errors.js'
import { CELL, nameOf, readPlace, type Cells } from '../watch.js'
import { unavailable } from './reach.js'
import { readThrown } from './thrown.js'

/** Where hook code is, or was when it threw, in the TypeScript that somebody wrote; and what it threw, as an error of ours. */

let loads = 0

/** The name that a module has in stacks, another one each time it is loaded. */
export const stackName = (file: string): string => `ph:${loads++}/${file}`

const fileOf = (name: string): string => name.replace(/^ph:\d+\//, '')

/** As what it is told. */
export type ThrownCode = 'hook/threw' | 'hook/module-threw' | 'test/failed'

export class Places {
  /** Source maps by the name a module has in stacks; read only when an error needs one. */
  readonly #maps = new Map<string, string | TraceMap>()

  /** @param cells shared with the watching thread, the first of which holds the place */
  constructor(private readonly cells: Cells) {}

  /** @param name in stacks @param map JSON of a source map */
  add(name: string, map: string): void {
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
      const map = this.#mapOf(match[1]!)
      if (!map) continue
      const original = originalPositionFor(map, { line: Number(match[2]), column: Math.max(0, Number(match[3]) - 1) })
      if (original.line !== null) return { file: fileOf(match[1]!), line: original.line, column: original.column + 1 }
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
