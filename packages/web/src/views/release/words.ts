import type { ChangeKind, ProjectInfo, ReleaseInfo } from '@patient-hook/contract'

/** Releases in words. */

export function audienceWord({ audience, everyoneAt }: ReleaseInfo, isLive: boolean): string {
  if (isLive) return 'live'
  if (audience === null || (audience.length === 0 && everyoneAt !== null)) return 'previously live'
  return audience.length === 0 ? 'pilot ended' : `in pilot with ${audience.join(', ')}`
}

/** The gate of a release, in a few words. */
export function gateWord({ gate, reason }: ReleaseInfo): string {
  const against = gate.filter(({ holds }) => !holds).length
  if (gate.length === 0) return 'checks not run'
  return against === 0
    ? `${gate.length} checks passed`
    : `${against} ${against === 1 ? 'check' : 'checks'} failed${reason === null ? '' : ', overridden'}`
}

/** Letters for what became of a file or a hook; never hue alone. */
export const CHANGE_SIGNS: Record<ChangeKind, string> = { added: '+', changed: '~', removed: '−', moved: '↕' }

export const titleOf = (users: ProjectInfo['users'], name: string): string =>
  users.find((user) => user.name === name)?.title ?? name
