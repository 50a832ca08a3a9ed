import { existsSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { makeFolder } from '@patient-hook/core/workbench'
import { Router } from 'express'
import { ROUTES, type Backup } from '@patient-hook/contract'
import { backUp, stamp, type Application } from '@patient-hook/core'
import { serve, type ServeOptions } from '../serve.js'
import type { Jobs } from '../services/jobs.js'

/** Within the application's folder. */
const FOLDER = 'backups'

function backupAt(folder: string, name: string): Backup {
  const { mtime, size } = statSync(join(folder, name))
  return { file: `${FOLDER}/${name}`, at: mtime.toISOString(), bytes: size }
}

/** Backups: made as jobs, listed. @param home the application's folder */
export function backupRoutes({ live }: Application, jobs: Jobs, home: string, options: ServeOptions): Router {
  const folder = join(home, FOLDER)
  const router = Router()
  serve(router, ROUTES.backups, options, async () => ({
    backups: existsSync(folder)
      ? readdirSync(folder)
          .filter((name) => name.endsWith('.db'))
          .sort()
          .reverse()
          .map((name) => backupAt(folder, name))
      : [],
  }))
  serve(router, ROUTES.makeBackup, options, async () =>
    jobs.begin('backup', 'A backup', async (job) => {
      makeFolder(folder, 0o700)
      const name = `records-${stamp(new Date())}.db`
      await backUp(live.database, join(folder, name), (done, total) => job.progress(done, total), job.signal)
      job.result({ backup: backupAt(folder, name) })
    }),
  )
  return router
}
