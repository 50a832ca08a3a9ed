import type { Files } from '@patient-hook/contract'
import { DEFAULT_LIMITS, type EngineLimits } from '../protocol.js'
import { LiveEngine } from './live-engine.js'
import { Reader } from './reader.js'
import { Spares } from './spares.js'
import { bringUpToDate, TryEngines, type Project } from './try-engines.js'

/** All that serves one application: the engine that saves, the engines that try, and the thread that reads. */
export interface Application {
  live: LiveEngine
  tries: TryEngines
  reader: Reader
  close(): Promise<void>
}

/**
 * @param files those of a new database; asked for only where it has none
 * @throws HookError where the database or the files cannot be used; nothing is left running then
 */
export async function openApplication(
  database: string,
  files: () => Files,
  limits: Partial<EngineLimits> = {},
): Promise<Application> {
  const all = { ...DEFAULT_LIMITS, ...limits }
  const now = (): Project => ({ files: live.files, database })
  let tellLoaded: (files: Files) => void = () => {}
  const loaded = new Promise<Files>((resolve) => (tellLoaded = resolve))
  let isOpened = false
  let tellOpened = () => {}
  const opened = new Promise<void>((resolve) => (tellOpened = resolve))
  const spares: Spares = new Spares(all, async (engine) => {
    // The first one loads the project as soon as the live engine has compiled it for both.
    if (!isOpened) {
      await bringUpToDate(engine, { files: new Map(Object.entries(await loaded)), database: null })
      await engine.call('warmUp')
    }
    await opened
    await bringUpToDate(engine, now())
    if (tries.sheet) await engine.call('sheet', ...tries.sheet)
    else await engine.call('warmUp')
  })
  const live = await LiveEngine.open(spares, database, files, {
    // Another processor is free from then on, and whoever opens the application asks for a sheet soon.
    started: () => spares.begin(),
    loaded: (texts) => tellLoaded(texts),
  })
  const tries: TryEngines = new TryEngines(spares, now())
  live.listen(() => {
    tries.use(now())
    spares.refresh()
  })
  isOpened = true
  tellOpened()
  const reader = new Reader(database)
  return {
    live,
    tries,
    reader,
    close: async () => {
      await Promise.all([live.close(), tries.close(), reader.close()])
    },
  }
}
