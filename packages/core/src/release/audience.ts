import type { Release } from './release-store.js'

/** Which release of each plugin a user gets: the one that is piloted for them, or the newest that is live for everyone. */

/** @param releases of all plugins, oldest first @returns by plugin, in the order of their names */
export function releasesFor(releases: readonly Release[], user: string): Map<string, Release> {
  const chosen = new Map<string, Release>()
  for (const release of releases) if (release.audience === null) chosen.set(release.plugin, release)
  for (const release of releases) if (release.audience?.includes(user)) chosen.set(release.plugin, release)
  return new Map([...chosen].sort(([a], [b]) => (a < b ? -1 : 1)))
}

/** The release of a plugin that everyone gets who pilots none. */
export const liveOf = (releases: readonly Release[], plugin: string): Release | undefined =>
  releases.findLast((release) => release.plugin === plugin && release.audience === null)

/**
 * The release that a step back goes to: the last one that was live for everyone before the text that is live now was.
 * @param releases of the plugin, oldest first
 */
export function stepBack(releases: readonly Release[], live: Release): Release | undefined {
  const origin = live.textFrom ?? live.id
  return releases.findLast(({ id, textFrom, everyoneAt }) => id < origin && textFrom === null && everyoneAt !== null)
}
