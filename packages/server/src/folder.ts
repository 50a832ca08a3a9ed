import { chmodSync, existsSync, renameSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { makeFolder } from '@patient-hook/core/workbench'

/** The application's folder: which files is in it. */
export interface DataFolder {
  database: string
  postRoom: string
  /** What was measured of the code. */
  proofs: string
  /** What a linked folder and the working copy had last in common. */
  link: string
}

/** The database, SQLite's own files beside it, and the record of how far it has come. */
const BESIDE = ['', '-wal', '-shm', '.commits']
/** What the file was named in earlier versions. */
const EARLIER = 'vault.db'

/** Only who owns the folder reads what is in it. @param fresh the database is removed first */
export function prepareFolder(folder: string, fresh: boolean): DataFolder {
  makeFolder(folder, 0o700)
  const database = join(folder, 'records.db')
  const earlier = join(folder, EARLIER)
  if (!existsSync(database) && existsSync(earlier))
    for (const ending of BESIDE) if (existsSync(earlier + ending)) renameSync(earlier + ending, database + ending)
  for (const ending of BESIDE) {
    if (fresh) rmSync(database + ending, { force: true })
    else if (existsSync(database + ending)) makePrivate(database + ending)
  }
  return { database, postRoom: join(folder, 'post-room.jsonl'), proofs: join(folder, 'proofs'), link: join(folder, 'link.json') }
}

function makePrivate(file: string): void {
  try {
    chmodSync(file, 0o600)
  } catch {
    // It belongs to somebody else; opening it says what that means.
  }
}
