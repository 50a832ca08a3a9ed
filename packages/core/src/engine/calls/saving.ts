import type { InputRow } from '@patient-hook/contract'
import { trySave, type SaveOutcome } from '../../save/save.js'
import type { SaveOptions } from '../../save/types.js'
import { loadRecords } from '../../store/records.js'
import type { RecordValues } from '../../model/types.js'
import { parentsFirst } from '../../model/order.js'
import type { OpenProject } from '../open-project.js'

/** Saves that are kept. */
export function save(open: OpenProject, rows: InputRow[], options: SaveOptions): SaveOutcome {
  const { project, program } = open.runtimes.saved
  return trySave({ project, program, store: open.live }, rows, { returnRecords: true, keepGiven: true, ...options })
}

/** Puts records in as they are, without hooks and history: for tests and measurements that need many. */
export function load(open: OpenProject, records: Record<string, RecordValues[]>): void {
  const { project } = open.runtimes.saved
  open.live.transaction(() => {
    for (const table of parentsFirst(project.tables.values())) loadRecords(open.live, table, records[table.name] ?? [])
    return { value: undefined, keep: true }
  })
}
