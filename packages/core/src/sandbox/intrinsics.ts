import 'ses'
import { STACK_PREFIX } from './places.js'

/** Freezes everything that the language itself hands to hook code. Once in the life of a thread, before any is loaded. */

declare const lockdown: (options: object) => void

interface CallSite {
  getScriptNameOrSourceURL(): string | null
}
type PrepareStack = (error: object, sites: readonly CallSite[]) => string

/** By error, its stack with the frames that hook code is not shown. */
const wholeStacks = new WeakMap<object, string>()

/** For the log of the engine: what hook code sees of a stack has only its own frames. */
export const wholeStackOf = (error: Error): string | undefined => wholeStacks.get(error) ?? error.stack

/** A stack that hook code can read names its own modules, and no file of this machine. */
function hideFrames(of: { prepareStackTrace?: unknown }): void {
  const prepare = of.prepareStackTrace as PrepareStack
  of.prepareStackTrace = (error: object, sites: readonly CallSite[]): string => {
    const own = sites.filter((site) => site.getScriptNameOrSourceURL()?.startsWith(STACK_PREFIX))
    const whole = prepare(error, sites)
    if (own.length === 0) return whole
    wholeStacks.set(error, whole)
    return prepare(error, own)
  }
}

export function sealIntrinsics(): void {
  const original = Error
  // Hooks are synchronous: nothing may give them a promise.
  delete (Array as { fromAsync?: unknown }).fromAsync
  lockdown({
    errorTaming: 'unsafe',
    overrideTaming: 'severe',
    consoleTaming: 'unsafe',
    stackFiltering: 'verbose',
    domainTaming: 'unsafe',
    // The engines run in one locale (engine/protocol.ts), so that what depends on it is the same everywhere.
    localeTaming: 'unsafe',
  })
  hideFrames(original)
}
