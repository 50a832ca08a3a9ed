import { z } from 'zod'
import { route } from '../route.js'
import { saveEntry, saveFigures, SAVE_FILTERS, saveStory } from '../shapes/save-log.js'
import { anyName } from '../shapes/values.js'
import { page } from './records.js'

/** The log of saves, kept or not. */

const one = z.object({ id: z.coerce.number().int().positive().max(Number.MAX_SAFE_INTEGER) })

export const saveLogRoutes = {
  saves: route({
    method: 'GET',
    path: '/saves',
    summary: 'Saves, newest first, with those that were not kept.',
    query: z.object({
      ...page,
      only: z.enum(SAVE_FILTERS).default('all'),
      user: anyName.optional(),
      /** Only those that wrote records of this table, or were refused for it. */
      table: anyName.optional(),
      /** Of those that were not kept, only those that this hook refused or failed. */
      hook: anyName.optional(),
    }),
    answer: z.object({ saves: z.array(saveEntry), more: z.boolean() }),
  }),
  saveFigures: route({
    method: 'GET',
    path: '/saves/figures',
    summary: 'Saves and their time by the hour, time and refusals by hook, saves that came near a budget.',
    query: z.object({
      hours: z.coerce
        .number()
        .int()
        .min(1)
        .max(24 * 31)
        .default(24),
    }),
    answer: saveFigures,
  }),
  saveStory: route({
    method: 'GET',
    path: '/saves/:id',
    summary: 'A kept save with the records that it wrote.',
    params: one,
    answer: saveStory,
  }),
  refusedStory: route({
    method: 'GET',
    path: '/saves/not-kept/:id',
    summary: 'A save that was not kept, with what it was given.',
    params: one,
    answer: saveStory,
  }),
}
