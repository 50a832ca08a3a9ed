import type { Choice, FullRecord, Ground, RecordPage } from '@patient-hook/contract'
import { HookError } from '../../errors.js'
import { hintFor } from '../../model/names.js'
import type { OpenProject } from '../open-project.js'
import { READS, type ListOptions, type Readable } from '../reads.js'

/** Reads of the records that something is tried on: a fixture set, or the copy of the live ones. */

function readable(open: OpenProject, { fixtures, drafts }: Ground): Readable {
  const { project, store } = open.ground(open.runtimes.with(drafts), fixtures)
  return {
    store,
    table(name) {
      const table = project.tables.get(name)
      if (!table) throw new HookError('project/unknown-table', { table: name, hint: hintFor(name, project.tables.keys()) })
      return table
    },
    count: (sql, parameters) => store.one(sql, ...parameters) as number,
  }
}

export const listTried = (open: OpenProject, ground: Ground, table: string, options: ListOptions): RecordPage =>
  READS.list(readable(open, ground), table, options)

export const recordTried = (open: OpenProject, ground: Ground, table: string, id: number): FullRecord =>
  READS.record(readable(open, ground), table, id)

export const choicesTried = (open: OpenProject, ground: Ground, table: string, text: string): Choice[] =>
  READS.choices(readable(open, ground), table, text)
