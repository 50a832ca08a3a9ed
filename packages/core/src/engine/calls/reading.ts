import type { Choice, FullRecord, Ground, RecordPage } from '@patient-hook/contract'
import { tableNamed } from '../../model/table-named.js'
import { onGround } from '../ground.js'
import type { OpenProject } from '../open-project.js'
import { READS } from '../reads.js'
import type { ListOptions, Readable } from '../record-list.js'

/** Reads of the records that something is tried on: a fixture set, or the copy of the live ones, as they are or were. */

function read<T>(open: OpenProject, ground: Ground, work: (readable: Readable) => T): T {
  return onGround(open, open.runtimes.with(ground.drafts), ground, ({ project, store }) =>
    work({
      store,
      table: (name) => tableNamed(project.tables, name),
      count: (sql, parameters) => store.one(sql, ...parameters) as number,
    }),
  )
}

/** A read of the live records, by an engine that only reads. */
export function readLive(open: OpenProject, database: string, read: keyof typeof READS, values: unknown[]): unknown {
  return (READS[read] as (readable: Readable, ...values: unknown[]) => unknown)(open.liveTables(database), ...values)
}

export const listTried = (open: OpenProject, ground: Ground, table: string, options: ListOptions): RecordPage =>
  read(open, ground, (readable) => READS.list(readable, table, options))

export const recordTried = (open: OpenProject, ground: Ground, table: string, id: number): FullRecord =>
  read(open, ground, (readable) => READS.record(readable, table, id))

export const choicesTried = (open: OpenProject, ground: Ground, table: string, text: string): Choice[] =>
  read(open, ground, (readable) => READS.choices(readable, table, text))
