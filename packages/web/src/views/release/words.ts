import type { ChangeKind, ProjectInfo, ReleaseInfo } from '@patient-hook/contract'

/** Releases in words. */

export function audienceWord({ audience, everyoneAt }: ReleaseInfo, isLive: boolean): string {
  if (isLive) return 'live for everyone'
  if (audience === null || (audience.length === 0 && everyoneAt !== null)) return 'was live'
  return audience.length === 0 ? 'taken back' : `piloted by ${audience.join(', ')}`
}

/** The gate of a release, in a few words. */
export function gateWord({ gate, reason }: ReleaseInfo): string {
  const against = gate.filter(({ holds }) => !holds).length
  if (gate.length === 0) return 'not looked at'
  return against === 0 ? `all ${gate.length} hold` : `${against} did not hold${reason === null ? '' : ', with a reason'}`
}

/** Letters for what became of a file or a hook; never hue alone. */
export const CHANGE_SIGNS: Record<ChangeKind, string> = { added: '+', changed: '~', removed: '−', moved: '↕' }

export const titleOf = (users: ProjectInfo['users'], name: string): string =>
  users.find((user) => user.name === name)?.title ?? name
