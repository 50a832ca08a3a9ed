import 'ses'

/** Freezes everything that the language itself hands to hook code. Once in the life of a thread, before any is loaded. */

declare const lockdown: (options: object) => void

export function sealIntrinsics(): void {
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
}
