import type { Ground, InputRow, RunLog, SheetRequest } from '@patient-hook/contract'
import { HookError } from '../../errors.js'
import { Recorder } from '../../rehearse/recorder.js'
import { makeSheet, type Sheet } from '../../rehearse/sheet.js'
import { trySave, type SaveOutcome } from '../../save/save.js'
import type { SaveOptions } from '../../save/types.js'
import { onGround } from '../ground.js'
import type { LiveCode } from '../live-code.js'
import type { OpenProject } from '../open-project.js'

/** What is tried and never kept: rehearsals and effect sheets, on fixture sets or on a copy of the records. */

/** Rows of which all are traced line by line; of more only the chosen one is. */
const MOST_TOLD = 20

interface Told {
  /** With the log of what each line did. */
  recorded?: boolean
  /** With what runs on saves of the user, switches too, which has no such log; default: the working copy. */
  released?: boolean
  /** The row of the input that is reported about many, from 1. */
  focus?: number
}

export type Rehearsal = SaveOutcome & { log: RunLog | null }

export function rehearse(
  open: OpenProject,
  ground: Ground,
  rows: InputRow[],
  { recorded = false, released = false, focus = 1, ...options }: SaveOptions & Told,
): Rehearsal {
  const code = released ? releasedCode(open, ground) : null
  const runtime = code?.for(options.user) ?? open.runtimes.with(ground.drafts, recorded ? 'probed' : 'plain')
  const { probe } = runtime
  const recorder = recorded && probe ? new Recorder((row) => rows.length <= MOST_TOLD || row.row === focus, true) : undefined
  if (probe && recorder) probe.listener = recorder
  try {
    const outcome = onGround(open, runtime, ground, (environment) =>
      trySave({ ...environment, recorder, switches: code?.switches }, rows, {
        returnRecords: true,
        ...options,
        rehearse: true,
        record: true,
      }),
    )
    return { ...outcome, log: recorder?.log ?? null }
  } finally {
    if (probe) probe.listener = null
  }
}

/** @throws HookError request/bad where drafts or a fixture set are named as well */
function releasedCode(open: OpenProject, { drafts, fixtures }: Ground): LiveCode {
  if (fixtures !== undefined || Object.keys(drafts ?? {}).length > 0)
    throw new HookError('request/bad', { detail: 'released: releases run on live records; leave fixtures and drafts out' })
  return open.codeOnCopy()
}

export function sheet(open: OpenProject, ground: Ground, request: SheetRequest): Sheet {
  const runtime = open.runtimes.with(ground.drafts, 'probed')
  return onGround(open, runtime, ground, (environment) => makeSheet({ ...environment, probe: runtime.probe }, request))
}
