import type { Files } from '@patient-hook/contract'
import { HookError } from '../../errors.js'
import { DEFAULT_LIMITS, type EngineLimits } from '../protocol.js'
import type { CompiledAhead } from '../calls/compiling.js'
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

/** Seconds within which files that are to be saved are compiled. */
const COMPILING = 20

/** @throws HookError where the files are wrong, or compiling them has no end */
async function compileOnTry(
  live: LiveEngine,
  tries: TryEngines,
  changed: Record<string, string | null>,
): Promise<CompiledAhead | null> {
  const files = Object.keys(changed).filter((file) => changed[file] !== null && /^plugins\/.*\.ts$/.test(file))
  if (files.length === 0) return null
  const numbers = await live.call('moduleNumbers', files)
  const signal = AbortSignal.timeout(COMPILING * 1000)
  try {
    const modules = files.map((file, at) => ({ file, text: changed[file]!, number: numbers[at]! }))
    return await tries.call('compileAhead', [modules], { signal, bare: true })
  } catch (error) {
    if (signal.aborted) throw new HookError('compile/too-slow', { seconds: COMPILING, file: files[0] })
    // What is wrong with the files is wrong with them anywhere; without an engine to try on, the live one compiles them.
    if (HookError.is(error) && /^(compile|hook)\//.test(error.code)) throw error
    return null
  }
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
    await engine.call('warmUp')
  })
  const live = await LiveEngine.open(spares, database, files, {
    // Another processor is free from then on, and anyone who opens the application asks for a sheet soon.
    started: () => spares.begin(),
    loaded: (texts) => tellLoaded(texts),
  })
  const tries: TryEngines = new TryEngines(spares, now(), undefined, 1)
  live.listen(() => {
    tries.use(now())
    spares.refresh()
  })
  live.compileAhead = (changed) => compileOnTry(live, tries, changed)
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
