import { z } from 'zod'
import { route } from '../route.js'
import { backup } from '../shapes/backups.js'
import { jobInfo } from '../shapes/jobs.js'

/** Backups of the application's file. */

export const backupRoutes = {
  backups: route({
    method: 'GET',
    path: '/backups',
    summary: 'Backups in the application’s folder, newest first.',
    answer: z.object({ backups: z.array(backup) }),
  }),
  makeBackup: route({
    method: 'POST',
    path: '/backups',
    summary: 'Begins to make a backup as a job; saves go on meanwhile.',
    answer: jobInfo,
    status: 202,
  }),
}
