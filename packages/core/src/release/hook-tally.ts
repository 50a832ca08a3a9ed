import type { HookFigures, HookHour } from '@patient-hook/contract'
import type { Program } from '../save/program.js'
import type { SaveOutcome } from '../save/save.js'
import type { Store } from '../store/database.js'

/**
 * The work of hooks on saves, by the hour. It is added up in memory and written now and then, so that a save pays nothing for it; what a
 * kill loses is a few seconds of these figures, never a record.
 */

/** Milliseconds between two writings. */
const EVERY = 2000
/** Days that are kept. */
const DAYS = 90

interface Key {
  hour: string
  hook: string
  version: string
}

const hourOf = (time: number): string => `${new Date(time).toISOString().slice(0, 13)}:00:00.000Z`
const nothing = (): HookFigures => ({ saves: 0, ran: 0, refused: 0, failed: 0, ms: 0 })

export class HookTally {
  #figures = new Map<string, Key & HookFigures>()
  #written = 0

  /** @param program what the save ran */
  add(program: Program, outcome: SaveOutcome): void {
    const hour = hourOf(Date.now())
    const versionOf = (hook: string) => program.hooks.find((each) => each.name === hook)?.version
    const of = (hook: string): HookFigures => {
      const version = versionOf(hook) ?? ''
      const key = `${hour} ${hook} ${version}`
      let figures = this.#figures.get(key)
      if (!figures) this.#figures.set(key, (figures = { hour, hook, version, ...nothing() }))
      return figures
    }
    for (const [hook, rows] of Object.entries(outcome.ran)) {
      const figures = of(hook)
      figures.saves++
      figures.ran += rows
      figures.ms += outcome.took[hook] ?? 0
    }
    const against = outcome.error ? (outcome.error.refusals ?? [outcome.error]) : outcome.refusals
    for (const { hook, code } of against)
      if (hook !== undefined && versionOf(hook) !== undefined) of(hook)[code === 'hook/refused' ? 'refused' : 'failed']++
  }

  /** Writes what was added up, when it is time to. */
  writeNowAndThen(store: Store): void {
    if (this.#figures.size > 0 && Date.now() - this.#written > EVERY) this.write(store)
  }

  write(store: Store): void {
    this.#written = Date.now()
    if (this.#figures.size === 0) return
    store.transaction(() => {
      for (const { hour, hook, version, saves, ran, refused, failed, ms } of this.#figures.values())
        store.run(
          `INSERT INTO ph_hook_hour (hour, hook, version, saves, ran, refused, failed, ms) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
           ON CONFLICT (hour, hook, version) DO UPDATE SET saves = saves + excluded.saves, ran = ran + excluded.ran,
             refused = refused + excluded.refused, failed = failed + excluded.failed, ms = ms + excluded.ms`,
          hour,
          hook,
          version,
          saves,
          ran,
          refused,
          failed,
          ms,
        )
      store.run('DELETE FROM ph_hook_hour WHERE hour < ?', hourOf(Date.now() - DAYS * 86_400_000))
      return { value: undefined, keep: true }
    })
    this.#figures.clear()
  }
}

const SUMS = 'sum(saves) AS saves, sum(ran) AS ran, sum(refused) AS refused, sum(failed) AS failed, sum(ms) AS ms'

/** Of the last 24 hours, by hook. */
export function lastDay(store: Store): Map<string, HookFigures> {
  const since = hourOf(Date.now() - 24 * 3_600_000)
  const rows = store.objects(`SELECT hook, ${SUMS} FROM ph_hook_hour WHERE hour > ? GROUP BY hook`, since)
  return new Map((rows as unknown as ({ hook: string } & HookFigures)[]).map(({ hook, ...figures }) => [hook, figures]))
}

/** @param hours how far back @returns oldest first */
export function hoursOf(store: Store, hook: string, hours: number): HookHour[] {
  const since = hourOf(Date.now() - hours * 3_600_000)
  return store.objects(
    'SELECT hour, version, saves, ran, refused, failed, ms FROM ph_hook_hour WHERE hook = ? AND hour > ? ORDER BY hour, version',
    hook,
    since,
  ) as unknown as HookHour[]
}
