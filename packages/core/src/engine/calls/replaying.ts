import type { Files, GivenSave } from '@patient-hook/contract'
import { HookError } from '../../errors.js'
import { asOf, replay } from '../../rehearse/replay/replay.js'
import { keptSave, lastSaves } from '../../save/given.js'
import type { OpenProject } from '../open-project.js'

/** Kept saves, run again on a copy of the records as they were before them. Tells `save` before each and `result` after it. */

/** The numbers of the last saves, oldest first. */
export function savesToReplay(open: OpenProject, count: number): number[] {
  return lastSaves(open.records(open.runtimes.saved.project), count)
}

/** @param after the last that was run already, before an engine had to be replaced */
export function replaySaves(open: OpenProject, drafts: Files | undefined, saves: number[], after: number | null): void {
  replay(open.ground(open.runtimes.with(drafts), undefined), saves, after, {
    begin: ({ id, at, user }) => open.tell('save', { save: id, at, user }),
    result: (result) => open.tell('result', result),
  })
}

/** What a save was given. @throws HookError rehearse/no-save or rehearse/not-given, or where the records before it are out of reach */
export function givenSave(open: OpenProject, save: number): GivenSave {
  const environment = open.ground(open.runtimes.saved, undefined)
  return asOf(environment, save, (given) => {
    if (!given) throw new HookError('rehearse/not-given', { save })
    const { at, user } = keptSave(environment.store, save)!
    return { save, at, user, partial: given.partial, rows: given.rows as GivenSave['rows'] }
  })
}
