import { z } from 'zod'
import { route } from '../route.js'
import { givenSave } from '../shapes/replays.js'
import { runLog } from '../shapes/runs.js'
import { inputRows, saveOutcome } from '../shapes/saves.js'
import { ground, sheet, sheetRequest } from '../shapes/sheets.js'
import { anyName, clock, files, user } from '../shapes/values.js'

/** Saves, and what is tried without being kept. */

export const rehearsal = saveOutcome.extend({ log: runLog.nullable() })
export type Rehearsal = z.infer<typeof rehearsal>

export const keepTest = z.strictObject({
  name: z.string().min(1).max(200),
  plugin: anyName,
  /** Hooks that are expected not to run. */
  silent: z.array(anyName).max(200),
})
export type KeepTest = z.infer<typeof keepTest>

export const keptTest = z.object({
  /** Texts of the test and of its fixture set, by path. */
  files,
  /** Path of the test. */
  file: z.string(),
  /** Why it fails as it stands; null where it passes. */
  failure: z.string().nullable(),
  /** For each hook that ran, or the function: does the test fail without it? */
  notices: z.array(z.object({ without: z.string(), fails: z.boolean() })),
})
export type KeptTest = z.infer<typeof keptTest>

const saving = z.strictObject({ rows: inputRows, user: user.optional(), partial: z.boolean().optional() })

export const saveRoutes = {
  save: route({
    method: 'POST',
    path: '/saves',
    summary: 'Saves rows in one transaction.',
    body: saving,
    answer: saveOutcome,
    status: 201,
  }),
  rehearse: route({
    method: 'POST',
    path: '/rehearsals',
    summary: 'Saves rows in a transaction that is rolled back, and says what happened.',
    body: saving.extend(ground.shape).extend({
      clock: clock.optional(),
      /** With the releases that the user gets, as a save would run, on live records; default: the working copy. */
      released: z.boolean().optional(),
      /** With the log of what each line did. */
      recorded: z.boolean().optional(),
      /** Of more than 20 rows, the one that is traced line by line: its place in the input, from 1. */
      focus: z.number().int().positive().optional(),
    }),
    answer: rehearsal,
  }),
  keepTest: route({
    method: 'POST',
    path: '/rehearsals/test',
    summary: 'A unit test of a rehearsal, with the fixture set that it needs; tried, and not kept yet.',
    body: saving.extend(ground.shape).extend({ clock: clock.optional() }).extend(keepTest.shape),
    answer: keptTest,
  }),
  givenSave: route({
    method: 'GET',
    path: '/saves/:save/given',
    summary: 'The input of a save, for a rehearsal on the records as they were before it.',
    params: z.object({ save: z.coerce.number().int().positive() }),
    answer: givenSave,
  }),
  sheet: route({
    method: 'POST',
    path: '/sheet',
    summary: 'The effect sheet of the rows of a table.',
    body: sheetRequest.extend(ground.shape),
    answer: sheet,
  }),
}
