import type { ErrorReport, HookError } from '../errors.js'
import type { Engine, EngineMethod } from './engine.js'

/** What crosses threads and processes: calls of the engine's methods, their answers, and events on the way. */

export interface HostOptions {
  /** One call within hook code may take so long without a sign of life, in milliseconds. */
  stallMs?: number
  /** Memory of the worker's JavaScript, in megabytes. */
  memoryMb?: number
}

export type Result<M extends EngineMethod> = Engine[M] extends (...values: never[]) => infer R ? R : never
export type Values<M extends EngineMethod> = Engine[M] extends (...values: infer V) => unknown ? V : never

export interface Call {
  id: number
  method: EngineMethod
  values: unknown[]
}
/** An answer to a call (with `id`), or an event. */
export interface Message {
  id?: number
  /** The value as JSON: it goes through a thread and a process, and a text is handed on at no cost. */
  json?: string
  error?: ErrorReport
  event?: string
  data?: unknown
}
export interface Pending {
  /** @param json undefined where the method gives nothing back */
  resolve: (json: string | undefined) => void
  reject: (error: HookError) => void
}

/**
 * For the engine's process. V8 puts objects of kinds that lived long once (a bulk input, say) among the old ones from the
 * start; rows live for one batch only, and what they hold then outlives many collections: measured, up to a third less
 * time collecting and 100 MB less at 100,000 rows without it.
 */
export const ENGINE_FLAGS: readonly string[] = ['--no-allocation-site-pretenuring']
