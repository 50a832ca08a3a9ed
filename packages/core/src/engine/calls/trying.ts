import type { Ground, InputRow, SheetRequest } from '@patient-hook/contract'
import { makeSheet, type Sheet } from '../../rehearse/sheet.js'
import { trySave, type SaveOutcome } from '../../save/save.js'
import type { SaveOptions } from '../../save/types.js'
import type { OpenProject } from '../open-project.js'

/** What is tried and never kept: rehearsals and effect sheets, on fixture sets or on a copy of the records. */

export function rehearse(open: OpenProject, { fixtures, drafts }: Ground, rows: InputRow[], options: SaveOptions): SaveOutcome {
  const runtime = open.runtimes.with(drafts)
  return trySave(open.ground(runtime, fixtures), rows, { returnRecords: true, ...options, rehearse: true, record: true })
}

export function sheet(open: OpenProject, { fixtures, drafts }: Ground, request: SheetRequest): Sheet {
  const runtime = open.runtimes.with(drafts, true)
  return makeSheet({ ...open.ground(runtime, fixtures), probe: runtime.probe }, request)
}
