import type { Ground, InputRow, RunLog, SheetRequest } from '@patient-hook/contract'
import { Recorder } from '../../rehearse/recorder.js'
import { makeSheet, type Sheet } from '../../rehearse/sheet.js'
import { trySave, type SaveOutcome } from '../../save/save.js'
import type { SaveOptions } from '../../save/types.js'
import { onGround } from '../ground.js'
import type { OpenProject } from '../open-project.js'

/** What is tried and never kept: rehearsals and effect sheets, on fixture sets or on a copy of the records. */

/** Rows of which all are told line by line; of more only the chosen one is. */
const MOST_TOLD = 20

export type Rehearsal = SaveOutcome & { log: RunLog | null }

/** @param options `recorded`: with the log of what each line did; `focus`: the row of the input that is told of many, from 1 */
export function rehearse(
  open: OpenProject,
  ground: Ground,
  rows: InputRow[],
  { recorded = false, focus = 1, ...options }: SaveOptions & { recorded?: boolean; focus?: number },
): Rehearsal {
  const runtime = open.runtimes.with(ground.drafts, recorded ? 'probed' : 'plain')
  const { probe } = runtime
  const recorder = recorded && probe ? new Recorder((row) => rows.length <= MOST_TOLD || row.row === focus, true) : undefined
  if (probe && recorder) probe.listener = recorder
  try {
    const outcome = onGround(open, runtime, ground, (environment) =>
      trySave({ ...environment, recorder }, rows, { returnRecords: true, ...options, rehearse: true, record: true }),
    )
    return { ...outcome, log: recorder?.log ?? null }
  } finally {
    if (probe) probe.listener = null
  }
}

export function sheet(open: OpenProject, ground: Ground, request: SheetRequest): Sheet {
  const runtime = open.runtimes.with(ground.drafts, 'probed')
  return onGround(open, runtime, ground, (environment) => makeSheet({ ...environment, probe: runtime.probe }, request))
}
