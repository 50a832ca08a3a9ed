import { HookError } from '../../errors.js'

/** Ended by the engine's watchdog or with its process: the work behind it can go on in another. */
export const isStopped = (error: unknown): error is HookError =>
  HookError.is(error) &&
  (error.code.startsWith('budget/') || error.code.startsWith('engine/') || error.code === 'check/pattern-stopped')
