import type { Files, ReleaseCoverage, VersionPart } from '@patient-hook/contract'
import { pluginsIn } from '@patient-hook/contract/paths'
import { HookError } from '../errors.js'
import { hintFor } from '../model/names.js'
import type { Store } from '../store/database.js'
import { liveOf, releasesFor } from './audience.js'
import { baseOf, compose, filesOfPlugin, pluginFile, sameText, stampOf, versionIn, withVersion } from './composite.js'
import { releasesIn, type Release } from './release-store.js'
import { bumped, isNewer } from './versions.js'

/** A plugin's working copy under its next version. */
export interface CandidatePlugin {
  plugin: string
  version: string
  /** The newest version before; null for the first release. */
  from: string | null
  /** None where its working copy is gone, which ends the plugin. */
  files: Files
}

/** What would be released together: working copies under their next versions, among what everyone gets of the other plugins. */
export interface Candidate {
  plugins: CandidatePlugin[]
  /** Everything that would run, with fixture sets for its tests. */
  whole: Files
  /** Of the whole: tells whether anything changed since it was measured. */
  stamp: string
  /** What is live now, to be compared with; null where nothing is, or its gate was not looked at. */
  before: { version: string; coverage: ReleaseCoverage } | null
}

/** What a plugin's next release is called. */
export function nextVersion(releases: readonly Release[], working: string | null, part: VersionPart): string {
  const newest = newestOf(releases)
  if (newest === null) return working ?? '0.1.0'
  // A user who wrote a newer version into plugin.json means it.
  return working !== null && isNewer(working, newest) ? working : bumped(newest, part)
}

const newestOf = (releases: readonly Release[]): string | null =>
  releases.reduce<string | null>((newest, { version }) => (newest === null || isNewer(version, newest) ? version : newest), null)

/**
 * @param all the releases, where they are read already
 * @throws HookError release/no-plugin, or release/nothing-new where a working copy is what everyone gets already
 */
export function candidateOf(
  store: Store,
  working: ReadonlyMap<string, string>,
  plugins: readonly string[],
  part: VersionPart,
  all: readonly Release[] = releasesIn(store),
): Candidate {
  const parts = plugins.map((plugin) => partOf(all, working, plugin, part))
  const others = [...releasesFor(all, '')].filter(([name]) => !plugins.includes(name)).map(([, release]) => release)
  const whole = compose(baseOf(working, true), [...others, ...parts])
  const measured = plugins
    .flatMap((plugin) => liveOf(all, plugin) ?? [])
    .filter(({ coverage }) => Object.keys(coverage).length > 0)
  const before = {
    version: measured.map(({ plugin, version }) => (plugins.length > 1 ? `${plugin} ${version}` : version)).join(' and '),
    coverage: Object.assign({}, ...measured.map(({ coverage }) => coverage)) as ReleaseCoverage,
  }
  return {
    plugins: parts,
    whole: Object.fromEntries(whole),
    stamp: stampOf(whole),
    before: measured.length > 0 ? before : null,
  }
}

function partOf(
  all: readonly Release[],
  working: ReadonlyMap<string, string>,
  plugin: string,
  part: VersionPart,
): CandidatePlugin {
  const own = all.filter((release) => release.plugin === plugin)
  const files = filesOfPlugin(working, plugin)
  const live = liveOf(all, plugin)
  if (Object.keys(files).length === 0 && !live) {
    throw new HookError('release/no-plugin', { plugin, hint: hintFor(plugin, pluginsIn(working.keys())) })
  }
  if (live && sameText(live.files, files, plugin)) throw new HookError('release/nothing-new', { plugin, version: live.version })
  const version = nextVersion(own, versionIn(files[pluginFile(plugin)]), part)
  return { plugin, version, from: newestOf(own), files: withVersion(files, plugin, version) }
}
