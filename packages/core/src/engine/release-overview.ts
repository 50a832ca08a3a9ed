import type { LiveHook, PluginReleases, ReleaseOverview, VersionPart } from '@patient-hook/contract'
import { VERSION_PARTS } from '@patient-hook/contract/words'
import { liveOf } from '../release/audience.js'
import { HookError } from '../errors.js'
import { candidateOf, nextVersion } from '../release/candidate.js'
import { filesOfPlugin, pluginFile, versionIn } from '../release/composite.js'
import { lastDay } from '../release/hook-tally.js'
import { infoOf, logOf, releasesIn, type Release } from '../release/release-store.js'
import { textChanges } from '../release/text-changes.js'
import type { OpenProject } from './open-project.js'

/** What is released, to whom, what the working copy has beside it, and how hooks are doing. */

/** Entries of the log that are reported. */
const MOST_ENTRIES = 200

export function overviewOf(open: OpenProject): ReleaseOverview {
  const all = releasesIn(open.live)
  const names = new Set([...open.runtimes.saved.project.plugins.keys(), ...all.map(({ plugin }) => plugin)])
  return {
    plugins: [...names].sort().map((plugin) => pluginOf(open, plugin, all)),
    hooks: hooksOf(open, all),
    log: logOf(open.live, MOST_ENTRIES),
  }
}

function pluginOf(open: OpenProject, plugin: string, all: readonly Release[]): PluginReleases {
  const own = all.filter((release) => release.plugin === plugin)
  const live = liveOf(own, plugin)
  const files = filesOfPlugin(open.runtimes.files, plugin)
  const version = versionIn(files[pluginFile(plugin)])
  const next = Object.fromEntries(VERSION_PARTS.map((part) => [part, nextVersion(own, version, part)])) as PluginReleases['next']
  return {
    plugin,
    releases: own.map(infoOf).reverse(),
    live: live?.id ?? null,
    working: textChanges(
      plugin,
      { files: live?.files ?? {}, program: open.liveCode.everyones.program },
      { files, program: open.runtimes.saved.program },
    ),
    next,
    stamps: Object.fromEntries(
      VERSION_PARTS.map((part) => [part, stampFor(open, plugin, part, all)]),
    ) as PluginReleases['stamps'],
  }
}

/** Null where the working copy is what is live. */
function stampFor(open: OpenProject, plugin: string, part: VersionPart, all: readonly Release[]): string | null {
  try {
    return candidateOf(open.live, open.runtimes.files, [plugin], part, all).stamp
  } catch (error) {
    if (HookError.is(error) && error.code === 'release/nothing-new') return null
    throw error
  }
}

const NOTHING = { saves: 0, ran: 0, refused: 0, failed: 0, ms: 0 }

function hooksOf(open: OpenProject, all: readonly Release[]): LiveHook[] {
  const day = lastDay(open.live)
  const { everyones, releases, switches } = open.liveCode
  const own = everyones.program.hooks.map(({ name, plugin, version, file }) => ({ name, plugin, version, file }))
  const piloted = releases
    .filter(({ audience }) => audience !== null)
    .flatMap(({ plugin, hooks }) => hooks.map((name) => ({ name, plugin, version: null, file: '' })))
    .filter(({ name }, index, list) => list.findIndex((each) => each.name === name) === index)
    .filter(({ name }) => !own.some((hook) => hook.name === name))
  return [...own, ...piloted].map(({ name, plugin, version, file }) => ({
    hook: name,
    plugin,
    version,
    since: version === null ? null : sinceOf(all, plugin, file),
    switched: switches.get(name) ?? null,
    // The engine does not know how the ones before it ended.
    paused: null,
    day: day.get(name) ?? NOTHING,
  }))
}

/** The first of the newest releases for everyone in which the file stands as it does now. */
function sinceOf(all: readonly Release[], plugin: string, file: string): string | null {
  const own = all.filter((release) => release.plugin === plugin && release.everyoneAt !== null).reverse()
  const text = own[0]?.files[file]
  const other = own.findIndex(({ files }) => files[file] !== text)
  return own[(other < 0 ? own.length : other) - 1]?.version ?? null
}
