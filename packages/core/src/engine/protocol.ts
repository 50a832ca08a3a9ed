import type { ErrorReport } from '../errors.js'
import type { MessagePort } from 'node:worker_threads'
import type { TypeGround } from '../language/compiler.js'

/** What crosses threads and processes: calls of the engine, their answers, and events on the way. */

export interface EngineLimits {
  /** One call within hook code may take so long without a sign of life, in milliseconds. */
  stallMs: number
  /** One statement of SQLite may take so long, in milliseconds. */
  queryMs: number
  /** Memory of the engine's JavaScript, in megabytes. */
  memoryMb: number
}
export const DEFAULT_LIMITS: EngineLimits = { stallMs: 3000, queryMs: 60_000, memoryMb: 768 }

/** Of engines that read for lists: what somebody looks at is there soon, or not at all. */
export const READER_LIMITS: EngineLimits = { ...DEFAULT_LIMITS, queryMs: 5000 }

/** To the engine's process. */
export type ToEngine = { id: number; call: string; values: unknown[] } | { cancel: number }

/** To the engine's thread. */
export type ToThread =
  | Extract<ToEngine, { id: number }>
  /** Nobody will ask for anything any more. */
  | { end: true }

/** From the engine's process. */
export type FromEngine =
  /** The value as JSON: it goes through a thread and a process, and a text is handed on at no cost. */
  | { id: number; json: string | undefined }
  | { id: number; error: ErrorReport; dying?: boolean }
  | { id: number; event: string; data: unknown }
  /** What is at work, for an end that nobody can catch. */
  | { atWork: ErrorReport }
  | { ready: true }

/** What the thread that watches has TypeScript’s compiler do, beside the engine’s. */
export interface CompilerCall {
  ground: TypeGround
  /** Where the answer goes. */
  port: MessagePort
  /** Its only cell is 1 once the answer was sent. */
  answered: Int32Array
}

/** From the engine's thread to the thread that watches it. */
export type FromThread =
  | Extract<FromEngine, { id: number }>
  | { named: { kind: string; first: number; names: readonly string[] } }
  | { compile: CompilerCall }
  | { ready: true }
  /** What is worth keeping has been written. */
  | { ended: true }

/**
 * For the engine's process. V8 puts objects of kinds that lived long once (a bulk input, say) among the old ones from the
 * start; rows live for one batch only, and what they hold then outlives many collections: measured, up to a third less
 * time collecting and 100 MB less at 100,000 rows without it.
 */
export const ENGINE_FLAGS: readonly string[] = ['--no-allocation-site-pretenuring']

/** Dates and sorting are the same on every machine: the engines run in UTC and in one locale. */
export const ENGINE_ENVIRONMENT = { TZ: 'UTC', LC_ALL: 'en_US.UTF-8', LANG: 'en_US.UTF-8', LANGUAGE: 'en' } as const
