import type { BackfillInfo, SaveEntry, SaveFigures } from '@patient-hook/contract'
import { computed, onMounted, shallowRef, watch } from 'vue'
import type { RouteLocationRaw } from 'vue-router'
import { api } from '../../lib/api'
import { useAttempt } from '../../lib/use-attempt'
import { useProject } from '../../stores/project'
import { useProofs } from '../../stores/proofs'
import { useReleases } from '../../stores/releases'
import { keyOf } from '../operations/saves/words'
import { isMissed } from '../prove/proofs'

/** Something that needs attention, and the place where it is fixed. */
export interface Attention {
  level: 'error' | 'warning' | 'info'
  text: string
  to: RouteLocationRaw
}
/** Something that was done lately. */
export interface Activity {
  at: string
  user: string
  text: string
  to: RouteLocationRaw
}

const HOURS = 24
const MOST_SAVES = 10
const MOST_ACTIVITY = 12
const plural = (count: number, one: string, more = `${one}s`) => `${count} ${count === 1 ? one : more}`

/** What the whole project is like: what needs attention, what was done lately, how saves are doing. */
export function useOverview() {
  const project = useProject()
  const proofs = useProofs()
  const releases = useReleases()
  const figures = shallowRef<SaveFigures | null>(null)
  const saves = shallowRef<readonly SaveEntry[]>([])
  const backfills = shallowRef<readonly BackfillInfo[]>([])
  const failedMessages = shallowRef(0)
  const isLoaded = shallowRef(false)
  const { error, attempt } = useAttempt()

  const load = () =>
    attempt(async () => {
      const [ofSaves, latest, ofBackfills, outbox] = await Promise.all([
        api.saveFigures(HOURS),
        api.saves({ offset: 0, limit: MOST_SAVES, only: 'all' }),
        api.backfills(),
        api.outbox({ limit: 1 }),
        releases.load(),
      ])
      figures.value = ofSaves
      saves.value = latest.saves
      backfills.value = ofBackfills.backfills
      failedMessages.value = outbox.counts.failed
      isLoaded.value = true
    })
  onMounted(load)
  watch(() => project.version, load)

  const ofCode = computed((): Attention[] => {
    const { findings, coverage, mutation, bulk } = proofs.parts
    const found = findings.results ?? []
    const failed = (coverage.results ?? []).filter((each) => 'test' in each && each.test.status === 'failed')
    const survived = (mutation.results ?? []).filter(isMissed)
    const unsafe = (bulk.results ?? []).filter(({ holds, accepted }) => !holds && !accepted)
    const at = (hook: string | null | undefined): RouteLocationRaw => ({ name: 'prove', params: { hook: hook ?? '' } })
    const unsafeHooks = new Set(unsafe.map(({ hook }) => hook))
    return [
      ...(found.length > 0 ? [{ level: 'error' as const, text: plural(found.length, 'finding'), to: at(found[0]!.hook) }] : []),
      ...(failed.length > 0 ? [{ level: 'error' as const, text: `${plural(failed.length, 'test')} failed`, to: at(null) }] : []),
      ...(unsafe.length > 0
        ? [{ level: 'error' as const, text: `${plural(unsafeHooks.size, 'hook')} unsafe in bulk`, to: at(unsafe[0]!.hook) }]
        : []),
      ...(survived.length > 0
        ? [{ level: 'warning' as const, text: `${plural(survived.length, 'mutation')} survived`, to: at(survived[0]!.hook) }]
        : []),
      ...(project.hooks.length > 0 && !proofs.anyKnown
        ? [{ level: 'info' as const, text: 'Proofs have not run on this version of the code', to: at(null) }]
        : []),
    ]
  })
  const ofReleases = computed((): Attention[] => [
    ...releases.plugins.flatMap(({ plugin, working, releases: own }): Attention[] => {
      const to: RouteLocationRaw = { name: 'release', params: { plugin } }
      const pilots = own.filter(({ audience }) => audience !== null && audience.length > 0)
      const changed = working.files.length
      return [
        ...(changed > 0 ? [{ level: 'info' as const, text: `${plugin}: ${plural(changed, 'unreleased file')}`, to }] : []),
        ...pilots.map(({ version, audience }) => ({
          level: 'info' as const,
          text: `${plugin} ${version} is in pilot with ${audience!.join(', ')}`,
          to,
        })),
      ]
    }),
    ...(releases.overview?.hooks ?? []).flatMap(({ hook, plugin, paused, day }): Attention[] => {
      const to: RouteLocationRaw = { name: 'release', params: { plugin } }
      if (paused) return [{ level: 'error', text: `${hook} is paused after stopping the engine ${paused.stops} times`, to }]
      return day.failed > 0 ? [{ level: 'error', text: `${hook} failed on ${plural(day.failed, 'row')} today`, to }] : []
    }),
  ])
  const ofOperations = computed((): Attention[] => [
    ...(failedMessages.value > 0
      ? [{ level: 'error' as const, text: `${plural(failedMessages.value, 'message')} failed`, to: { name: 'outbox' } }]
      : []),
    ...backfills.value
      .filter(({ state }) => state === 'paused' || state === 'failed')
      .map(({ id, state }) => ({
        level: state === 'failed' ? ('error' as const) : ('warning' as const),
        text: `Backfill ${id} is ${state}`,
        to: { name: 'backfills', params: { id: String(id) } },
      })),
  ])
  const ORDER = { error: 0, warning: 1, info: 2 }
  const attention = computed(() =>
    [...ofCode.value, ...ofReleases.value, ...ofOperations.value].sort((a, b) => ORDER[a.level] - ORDER[b.level]),
  )

  const activity = computed((): Activity[] =>
    [
      ...saves.value.map(({ id, at, user, rows, state }) => ({
        at,
        user,
        text: state === 'kept' ? `saved ${plural(rows, 'row')}` : `tried to save ${plural(rows, 'row')}: ${state}`,
        to: { name: 'saves', params: { id: keyOf({ id, state }) } },
      })),
      ...(releases.overview?.log ?? []).map(({ at, user, plugin, version, hook, what }) => ({
        at,
        user,
        text: `${what} ${hook ?? `${plugin} ${version}`}`,
        to: { name: 'release', params: { plugin } },
      })),
      ...backfills.value.map(({ id, at, user, table, state }) => ({
        at,
        user,
        text: `backfill ${id} of ${table}: ${state}`,
        to: { name: 'backfills', params: { id: String(id) } },
      })),
    ]
      .sort((a, b) => b.at.localeCompare(a.at))
      .slice(0, MOST_ACTIVITY),
  )

  /** The way to a first released hook, each step ticked once it is done. */
  const steps = computed(() => [
    {
      title: 'Create a table',
      hint: 'or import one from a CSV file or a JSON Schema',
      done: project.tables.length > 0,
      to: { name: 'model' },
    },
    { title: 'Write a hook', hint: 'and watch its effect on real rows', done: project.hooks.length > 0, to: { name: 'write' } },
    {
      title: 'Test it',
      hint: 'rehearse a save and keep it as a unit test',
      done: project.info?.plugins.some(({ tests }) => tests.length > 0) ?? false,
      to: { name: 'rehearse' },
    },
    {
      title: 'Release it',
      hint: 'to pilot users or to everyone',
      done: releases.plugins.some(({ live }) => live !== null),
      to: { name: 'release' },
    },
  ])
  const isStarted = computed(() => steps.value.every(({ done }) => done))
  return { attention, activity, figures, steps, isStarted, isLoaded, error, hours: HOURS }
}
