import { z } from 'zod'
import { VERSION_PARTS } from '../words.js'
import { share } from './coverage.js'

/** Releases: immutable copies of a plugin's files, and their audience. */

export const versionPart = z.enum(VERSION_PARTS)
export type VersionPart = z.infer<typeof versionPart>

/** One rule of the gate, looked at on exactly the text that is released. */
export const gateResult = z.object({
  what: z.string(),
  holds: z.boolean(),
  /** In words; a line for each trouble. */
  detail: z.string(),
})
export type GateResult = z.infer<typeof gateResult>

export const hookShares = z.object({ statements: share, branches: share })
/** By hook: what unit tests ran of it when it was released. */
export const releaseCoverage = z.record(z.string(), hookShares)
export type ReleaseCoverage = z.infer<typeof releaseCoverage>

export const releaseInfo = z.object({
  id: z.number().int(),
  plugin: z.string(),
  version: z.string(),
  note: z.string(),
  /** ISO date and time. */
  at: z.string(),
  user: z.string(),
  gate: z.array(gateResult),
  /** Why it was released although the gate did not hold, or was not looked at. */
  reason: z.string().nullable(),
  /** The audience: null everyone, or these users; none once the pilot ended. */
  audience: z.array(z.string()).nullable(),
  /** Since when it is live for everyone, or was; null where only pilots got it. */
  everyoneAt: z.string().nullable(),
  /** The version whose text this is, of a step back. */
  textOf: z.string().nullable(),
  hooks: z.array(z.string()),
})
export type ReleaseInfo = z.infer<typeof releaseInfo>

export const changeKind = z.enum(['added', 'changed', 'removed', 'moved'])
export type ChangeKind = z.infer<typeof changeKind>

/** Differences between two texts of a plugin. */
export const textChanges = z.object({
  files: z.array(z.object({ file: z.string(), change: changeKind })),
  /** Moved: the same code elsewhere in the save path, or of another file. */
  hooks: z.array(z.object({ hook: z.string(), change: changeKind, says: z.string() })),
})
export type TextChanges = z.infer<typeof textChanges>

export const pluginReleases = z.object({
  plugin: z.string(),
  /** Newest first. */
  releases: z.array(releaseInfo),
  /** The release that everyone gets; null where there is none. */
  live: z.number().int().nullable(),
  /** What the working copy has that the live release has not. */
  working: textChanges,
  /** By part of the version that goes up: what the next release is called. */
  next: z.record(versionPart, z.string()),
  /** Names of the texts that would be released alone, by part: a gate holds for the text of its job's name only. Null where nothing is new. */
  stamps: z.record(versionPart, z.string().nullable()),
})
export type PluginReleases = z.infer<typeof pluginReleases>

export const hookFigures = z.object({
  saves: z.number().int(),
  /** Rows it ran for. */
  ran: z.number().int(),
  refused: z.number().int(),
  failed: z.number().int(),
  /** Milliseconds. */
  ms: z.number(),
})
export type HookFigures = z.infer<typeof hookFigures>

/** A hook that runs on saves of somebody. */
/** A hook that stopped the engine again and again: saves that it would run for are refused until it is switched, rolled back or released. */
export const pausedHook = z.object({
  hook: z.string(),
  /** How often it stopped the engine. */
  stops: z.number(),
  /** ISO dates and times: since when, and when a save tries it again. */
  since: z.string(),
  nextTry: z.string(),
})
export type PausedHook = z.infer<typeof pausedHook>

export const liveHook = z.object({
  hook: z.string(),
  plugin: z.string(),
  /** Of the release for everyone; null where only pilots have it. */
  version: z.string().nullable(),
  /** Since which version its file stands as it does. */
  since: z.string().nullable(),
  /** Switched beside its release, with who and when. */
  switched: z.object({ state: z.enum(['on', 'off']), user: z.string(), at: z.string() }).nullable(),
  paused: pausedHook.nullable(),
  /** In the last 24 hours, all versions. */
  day: hookFigures,
})
export type LiveHook = z.infer<typeof liveHook>

export const releaseEntry = z.object({
  at: z.string(),
  user: z.string(),
  plugin: z.string(),
  version: z.string(),
  hook: z.string().nullable(),
  what: z.enum(['released', 'piloted', 'opened', 'taken back', 'back', 'switched', 'renamed with the model']),
  detail: z.string(),
})
export type ReleaseEntry = z.infer<typeof releaseEntry>

export const releaseOverview = z.object({
  plugins: z.array(pluginReleases),
  hooks: z.array(liveHook),
  /** What was done, newest first. */
  log: z.array(releaseEntry),
})
export type ReleaseOverview = z.infer<typeof releaseOverview>

/** What a hook did, hour by hour and version by version. */
export const hookHour = hookFigures.extend({
  /** ISO date and time of its beginning. */
  hour: z.string(),
  version: z.string(),
})
export type HookHour = z.infer<typeof hookHour>

/** What a release finds on its way: each rule as it is known, and at last what was kept. */
export const releaseResult = z.union([z.object({ gate: gateResult }), z.object({ released: releaseInfo })])
export type ReleaseResult = z.infer<typeof releaseResult>
