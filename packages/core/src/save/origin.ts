import type { Hook } from './hook.js'

/** Where a row of a save comes from: the typed rows that it represents, and the hooks whose work led to it. */

export interface Origin {
  /** Typed rows, by their place in the input, from 1. */
  readonly rows: readonly number[]
  /** Hooks that asked for it, or set a value that led to it; followed only where a hook wants to know (`ripples: 'others'`). */
  readonly hooks: HookSet
}

/** A set of hooks that is never changed; sets made in the same way are one object, so that thousands of rows share it. */
export class HookSet {
  readonly #with = new Map<Hook, HookSet>()

  private constructor(private readonly hooks: ReadonlySet<Hook>) {}

  static empty(): HookSet {
    return new HookSet(new Set())
  }

  has(hook: Hook): boolean {
    return this.hooks.has(hook)
  }

  with(hook: Hook): HookSet {
    if (this.hooks.has(hook)) return this
    let more = this.#with.get(hook)
    if (!more) this.#with.set(hook, (more = new HookSet(new Set([...this.hooks, hook]))))
    return more
  }

  and(other: HookSet): HookSet {
    if (other === this) return this
    return [...other.hooks].reduce<HookSet>((all, hook) => all.with(hook), this)
  }
}

/** @param origins at least one */
export function union(origins: readonly Origin[]): Origin {
  const [first, ...others] = origins as readonly [Origin, ...Origin[]]
  if (others.every((origin) => origin === first)) return first
  return {
    rows: [...new Set(origins.flatMap((origin) => origin.rows))],
    hooks: others.reduce((hooks, origin) => hooks.and(origin.hooks), first.hooks),
  }
}
