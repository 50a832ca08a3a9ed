import type { HookHour, ReleaseInfo, ReleaseOverview, VersionPart } from '@patient-hook/contract'
import { HookError } from '../../errors.js'
import { hintFor } from '../../model/names.js'
import { liveOf, stepBack } from '../../release/audience.js'
import { candidateOf, nextVersion, type Candidate, type CandidatePlugin } from '../../release/candidate.js'
import { pluginFile, versionIn, withVersion } from '../../release/composite.js'
import { missingFields, neededWord } from '../../release/gone-fields.js'
import { hoursOf } from '../../release/hook-tally.js'
import * as kept from '../../release/release-store.js'
import { followRenames, setSwitch } from '../../release/switches.js'
import type { LiveCode } from '../live-code.js'
import type { OpenProject } from '../open-project.js'
import { overviewOf } from '../release-overview.js'
import type { Runtime } from '../runtime.js'
import { keepFiles, projectChange } from './project.js'

/** Releases: made of the working copy, given to users, undone; by the live engine, between two saves. */

export function releaseOverview(open: OpenProject): ReleaseOverview {
  open.tally.write(open.live)
  return overviewOf(open)
}

export const releaseFiles = (open: OpenProject, id: number): kept.Release['files'] => kept.releaseOf(open.live, id).files

export function hookHours(open: OpenProject, hook: string, hours: number): HookHour[] {
  open.tally.write(open.live)
  return hoursOf(open.live, hook, hours)
}

/** What would be released now. @throws HookError release/no-plugin or release/nothing-new */
export const releaseCandidate = (open: OpenProject, plugins: string[], part: VersionPart): Candidate =>
  candidateOf(open.live, open.runtimes.files, plugins, part)

export interface ReleaseWish extends Omit<kept.NewRelease, 'plugin' | 'version' | 'files' | 'textFrom'> {
  /** Released together: what moves from one to another is never in both, nor in none. */
  plugins: string[]
  part: VersionPart
  /** Of the candidate that was measured. */
  stamp: string
}

/**
 * Releases the working copy of a plugin, if it still is what was measured.
 * @throws HookError release/changed, release/not-held, or what is wrong with the text; nothing is changed then
 */
export function release(open: OpenProject, wish: ReleaseWish, token: string) {
  const { plugins, part, stamp, audience, gate } = wish
  if (audience !== null) checkUsers(open, audience)
  const candidate = candidateOf(open.live, open.runtimes.files, plugins, part)
  const names = candidate.plugins.map(({ plugin, version }) => `${plugin} ${version}`).join(' and ')
  if (stamp !== candidate.stamp) throw new HookError('release/changed', { plugin: plugins.join(' and ') })
  const against = gate.filter(({ holds }) => !holds).map(({ what, detail }) => `${what}: ${detail.split('\n')[0]}`)
  if (wish.reason === null && (against.length > 0 || gate.length === 0))
    throw new HookError('release/not-held', { plugin: names, detail: against.join('; ') || 'the gate was not looked at' })
  const heads = new Map(
    candidate.plugins.flatMap(({ plugin, files }): [string, string][] => {
      const text = files[pluginFile(plugin)]
      return text === undefined ? [] : [[pluginFile(plugin), text]]
    }),
  )
  const working = heads.size === 0 ? open.runtimes.saved : open.runtimes.make(new Map([...open.runtimes.files, ...heads]))
  const releases = change(
    open,
    () => {
      keepFiles(open, heads, token)
      return candidate.plugins.map((each) => releaseOne(open, wish, each))
    },
    working,
  )
  return { releases, ...projectChange(open) }
}

function releaseOne(open: OpenProject, wish: ReleaseWish, { plugin, version, files }: CandidatePlugin): ReleaseInfo {
  const { audience, user } = wish
  const hooks = new Set(kept.hooksIn(files))
  const coverage = Object.fromEntries(Object.entries(wish.coverage).filter(([hook]) => hooks.has(hook)))
  const made = kept.addRelease(open.live, { ...wish, plugin, version, files, coverage })
  const ended = endPilots(open, made)
  const to = audience === null ? 'to everyone' : `to ${audience.join(', ')}`
  const what = audience === null ? 'released' : 'piloted'
  note(open, user, made, what, [to, ...ended, wish.note, wish.reason ?? ''])
  return kept.infoOf(made)
}

/**
 * Releases a pilot to everyone, changes its users, or ends it.
 * @param audience null: everyone; none: undone @throws HookError release/unknown or release/bad
 */
export function setAudience(open: OpenProject, id: number, audience: string[] | null, user: string, token: string): ReleaseInfo {
  const before = kept.releaseOf(open.live, id)
  const { plugin, version } = before
  const bad = (detail: string) => new HookError('release/bad', { detail: `${plugin} ${version} ${detail}` })
  if (before.audience === null) throw bad('is live for everyone: go back to the version before, or switch a hook off')
  const live = liveOf(kept.releasesIn(open.live), plugin)
  if (audience === null && live && live.id > id)
    throw bad(`is older than ${live.version}, which everyone has: release it as a step back to it`)
  if (audience !== null) checkUsers(open, audience)
  return change(open, () => {
    kept.setAudience(open.live, id, audience)
    const made = kept.releaseOf(open.live, id)
    const ended = audience?.length === 0 ? [] : endPilots(open, made)
    const what = audience === null ? 'opened' : audience.length === 0 ? 'taken back' : 'piloted'
    const who =
      audience === null
        ? 'to everyone'
        : audience.length === 0
          ? `from ${before.audience!.join(', ')}`
          : `to ${audience.join(', ')}`
    note(open, user, made, what, [who, ...ended])
    keepFiles(open, new Map(), token)
    return kept.infoOf(made)
  })
}

/**
 * Releases an older text again, to everyone; pilots keep what they have.
 * @param to the release to go back to; null: the one before @throws HookError release/no-step-back, or why the text does not run any more
 */
export function stepBackTo(open: OpenProject, plugin: string, to: number | null, user: string, token: string): ReleaseInfo {
  const own = kept.releasesIn(open.live, plugin)
  const live = liveOf(own, plugin)
  if (!live) throw new HookError('release/no-plugin', { plugin, hint: '' })
  const target = to === null ? stepBack(own, live) : kept.releaseOf(open.live, to)
  if (!target || target.plugin !== plugin) throw new HookError('release/no-step-back', { plugin, version: live.version })
  const gone = missingFields(target.files, open.runtimes.saved.project.tables, () => true)
  if (gone.length > 0)
    throw new HookError('release/fields-gone', { plugin, version: target.version, detail: gone.map(neededWord).join(', ') })
  const version = nextVersion(own, versionIn(live.files[pluginFile(plugin)]), 'patch')
  return change(open, () => {
    const made = kept.addRelease(open.live, {
      plugin,
      version,
      note: `A step back from ${live.version} to ${target.version}.`,
      user,
      files: withVersion(target.files, plugin, version),
      gate: target.gate,
      reason: target.reason,
      coverage: target.coverage,
      audience: null,
      textFrom: target.textFrom ?? target.id,
    })
    note(open, user, made, 'back', [`from ${live.version} to the text of ${target.version}`])
    keepFiles(open, new Map(), token)
    return kept.infoOf(made)
  })
}

/** @param state null: as its release says @throws HookError release/bad where no release has the hook */
export function switchHook(open: OpenProject, hook: string, state: 'on' | 'off' | null, user: string, token: string): void {
  const release = kept.releasesInUse(open.live).findLast(({ hooks }) => hooks.includes(hook))
  if (!release) {
    const names = kept.releasesInUse(open.live).flatMap(({ hooks }) => hooks)
    throw new HookError('release/bad', { detail: `no release that somebody gets has a hook ${hook}${hintFor(hook, names)}` })
  }
  change(open, () => {
    setSwitch(open.live, hook, state, user)
    note(open, user, release, 'switched', [state ?? 'as its release says'], hook)
    keepFiles(open, new Map(), token)
  })
}

/** Does all of it or nothing: what would run is loaded before anything is kept. */
function change<T>(open: OpenProject, work: () => T, working: Runtime = open.runtimes.saved): T {
  let code: LiveCode | null = null
  const value = open.live.transaction(() => {
    const before = kept.releasesInUse(open.live)
    const value = work()
    const after = kept.releasesInUse(open.live)
    for (const { from, to } of followRenames(open.live, before, after)) {
      const release = after.findLast(({ hooks }) => hooks.includes(to))!
      note(open, release.user, release, 'switched', [`as ${from} was, which is its name of before`], to)
    }
    code = open.codeNow(working)
    return { value, keep: true }
  })
  open.code = code
  if (working !== open.runtimes.saved) open.runtimes.use(working)
  return value
}

/** A user has one pilot of a plugin, and none once it is released to everyone. @returns in words, which others ended for whom */
function endPilots(open: OpenProject, { id, plugin, audience: now }: kept.Release): string[] {
  const pilots = kept
    .releasesInUse(open.live)
    .filter((each) => each.plugin === plugin && each.id !== id && each.audience !== null)
  return pilots.flatMap(({ id: other, version, audience }) => {
    const ended = audience!.filter((user) => now === null || now.includes(user))
    if (ended.length === 0) return []
    kept.setAudience(
      open.live,
      other,
      audience!.filter((user) => !ended.includes(user)),
    )
    return [`the pilot of ${version} (${ended.join(', ')}) ended`]
  })
}

function note(
  open: OpenProject,
  user: string,
  { plugin, version }: kept.Release,
  what: Parameters<typeof kept.note>[1]['what'],
  details: readonly string[],
  hook: string | null = null,
): void {
  kept.note(open.live, { user, plugin, version, hook, what, detail: details.filter((each) => each !== '').join('; ') })
}

/** @throws HookError release/bad */
function checkUsers(open: OpenProject, users: readonly string[]): void {
  const names = open.runtimes.saved.project.users.map(({ name }) => name)
  if (names.length === 0) return
  for (const user of users)
    if (!names.includes(user))
      throw new HookError('release/bad', { detail: `project.json has no user ${user}${hintFor(user, names)}` })
}
