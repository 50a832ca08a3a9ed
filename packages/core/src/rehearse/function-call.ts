import type { Argument, FunctionCall, FunctionResult } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import { hintFor } from '../model/names.js'
import { gotOf } from '../model/values.js'
import type { Project } from '../model/types.js'
import { Spending } from '../save/budget.js'
import type { Sandbox } from '../sandbox/sandbox.js'
import { describeValue } from '../entry/describe.js'
import { AT_WORK, atWork } from '../watch.js'
import { linesOf } from './lines.js'
import { preview } from './preview.js'
import { Recorder } from './recorder.js'
import type { Probe } from '../sandbox/probe.js'

/** Calls an exported function of a plugin's lib alone, within the budgets of a save. */

export interface CallGround {
  project: Project
  sandbox: Sandbox
  /** Of code that was compiled for recording. */
  probe: { listener: Probe | null } | null
}

/** What came of a call: the value itself, or what was thrown. */
export type Called = { value: unknown; error: null } | { value: undefined; error: HookError }

/**
 * @param read is given what came before anything else runs
 * @throws HookError rehearse/no-function where there is none of that name, or the module cannot be loaded
 */
export function callFunction<T>(
  { project, sandbox, probe }: CallGround,
  { file, name, args }: FunctionCall,
  read: (called: Called) => T,
): { read: T; result: Omit<FunctionResult, 'result' | 'error'> } {
  if (!/^plugins\/[^/]+\/lib\/.+\.ts$/.test(file))
    throw new HookError('request/bad', { detail: `${file} is not a module of a plugin's lib/` })
  const recorder = probe ? new Recorder(() => true) : null
  const spending = new Spending(project, 1, sandbox.meter, () => ({ file, chain: '' }))
  try {
    // As if nothing had run yet.
    sandbox.forgetState()
    const { exports } = sandbox.load(file)
    const called: unknown = Object.getOwnPropertyDescriptor(exports, name)?.value
    if (typeof called !== 'function') {
      const names = Object.keys(exports).filter((each) => typeof exports[each] === 'function')
      throw new HookError('rehearse/no-function', { file, name, hint: hintFor(name, names) })
    }
    const values = args.map(argumentOf)
    if (probe && recorder) probe.listener = recorder
    recorder?.enterCall(name)
    return atWork(AT_WORK.call, () => {
      let outcome: Called
      try {
        const value: unknown = (called as (...values: unknown[]) => unknown)(...values)
        // It may have swallowed the error of a spent budget.
        if (spending.broken) throw spending.broken
        outcome = { value, error: null }
      } catch (error) {
        outcome = { value: undefined, error: sandbox.toHookError(error, { file }) }
      }
      if (probe) probe.listener = null
      const { steps, ms } = spending.close()
      return { read: read(outcome), result: { lines: recorder ? linesOf(recorder.log) : [], steps: steps!, ms: ms! } }
    })
  } finally {
    if (probe) probe.listener = null
    spending.close()
  }
}

/** What is reported about a value: in words, and as JSON. */
export const toldOf = (value: unknown) => ({ text: preview(value), json: describeValue(value) })

/** A fresh value for each call, so that a function which changes what it is given cannot change our state. */
function argumentOf({ value, as }: Argument): unknown {
  if (as === undefined) return value === undefined ? undefined : structuredClone(value)
  if (!Array.isArray(value)) throw new HookError('request/bad', { detail: `a ${as} is given as a list, not ${gotOf(value)}` })
  const items = structuredClone(value) as unknown[]
  if (as === 'set') return new Set(items)
  const pairs = items.filter((item): item is [unknown, unknown] => Array.isArray(item) && item.length === 2)
  if (pairs.length < items.length)
    throw new HookError('request/bad', { detail: 'a map is given as a list of pairs: [key, value]' })
  return new Map(pairs)
}
