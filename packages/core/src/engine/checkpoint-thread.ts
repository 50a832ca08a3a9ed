import { parentPort, workerData } from 'node:worker_threads'
import Database from 'better-sqlite3'

/** The thread of a Checkpointer: a checkpoint for each message, and a message back. */

const { file } = workerData as { file: string }
let db: Database.Database | null = null

parentPort!.on('message', () => {
  try {
    db ??= new Database(file, { fileMustExist: true })
    db.pragma('wal_checkpoint(PASSIVE)')
  } catch {
    // A disk that is full or does not answer: the log stays as it is, and the next save says so if it cannot be written itself.
  }
  parentPort!.postMessage(null)
})
