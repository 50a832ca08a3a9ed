import type { HookCode } from './types.js'

/** Which of two hooks of one moment runs first, and whether the author said so. */

/** Does `later` name `earlier` in its `after`, directly or through others? */
export function runsAfter(later: HookCode, earlier: HookCode, all: readonly HookCode[], seen = new Set<string>()): boolean {
  if (later.after.includes(earlier.name)) return true
  return later.after.some((name) => {
    const between = seen.has(name) ? undefined : all.find((each) => each.name === name)
    return between !== undefined && runsAfter(between, earlier, all, seen.add(name))
  })
}

/** Of the same table and moment, and for at least one event in common. */
export const meet = (a: HookCode, b: HookCode): boolean =>
  a.name !== b.name && a.table.name === b.table.name && a.moment === b.moment && a.on.some((event) => b.on.includes(event))

/** Where a part can be put in: behind `moment`. */
export function withPart(hook: HookCode, part: string): { start: number; end: number; text: string }[] | null {
  const at = hook.definition.properties.find((each) => each.name?.getText() === 'moment')?.getEnd()
  return at === undefined ? null : [{ start: at, end: at, text: `, ${part}` }]
}
