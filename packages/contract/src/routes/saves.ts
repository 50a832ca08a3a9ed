import { z } from 'zod'
import { route } from '../route.js'
import { inputRows, saveOutcome } from '../shapes/saves.js'
import { ground, sheet, sheetRequest } from '../shapes/sheets.js'
import { user } from '../shapes/values.js'

/** Saves, and what is tried without being kept. */

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
    body: saving.extend(ground.shape),
    answer: saveOutcome,
  }),
  sheet: route({
    method: 'POST',
    path: '/sheet',
    summary: 'The effect sheet of the rows of a table.',
    body: sheetRequest.extend(ground.shape),
    answer: sheet,
  }),
}
