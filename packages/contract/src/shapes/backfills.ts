import { z } from 'zod'
import { LONGEST_NAME } from '../limits.js'
import { errorReport } from './errors.js'
import { where } from './records.js'
import { change } from './saves.js'
import { anyName, name, recordValues, values } from './values.js'

/** Backfills: what is done to existing records, planned, run, stopped and undone. */

/** One series for all, or one for each value of a field. */
const series = z.union([anyName, z.strictObject({ by: anyName, of: z.record(z.string().max(LONGEST_NAME), anyName) })])

export const backfillWish = z.strictObject({
  table: name,
  /** Which records; all where there is no condition. */
  where: where.default({}),
  /** Fields in whose order the records are gone through, with - before one for falling order; then by id. */
  order: z
    .array(z.string().max(LONGEST_NAME + 1))
    .max(20)
    .default([]),
  /** One of these three says what is done. */
  hooks: z.array(anyName).min(1).max(200).optional(),
  set: values.optional(),
  number: z.strictObject({ field: anyName, series }).optional(),
  /** Do what after-save hooks ask for, rather than only count it. */
  withEffects: z.boolean().default(false),
  withMessages: z.boolean().default(false),
})

/** As it is kept: also of the rows of a file, which are saved as a backfill is. */
const keptWish = backfillWish.extend({
  rows: z
    .strictObject({
      file: z.string(),
      /** Rows that are refused are left out; else the first of them ends it. */
      partial: z.boolean(),
    })
    .optional(),
})
export type BackfillWish = z.infer<typeof keptWish>

/** A record with a problem, or that is left as it is. */
export const backfillLeft = z.object({
  table: z.string(),
  /** Of a row of a file: its number there. */
  id: z.number().int(),
  field: z.string().nullable(),
  message: z.string(),
})
export type BackfillLeft = z.infer<typeof backfillLeft>

const counts = z.record(z.string(), z.number().int())

export const backfillFigures = z.object({
  /** Records of the table that were written. */
  changed: z.number().int(),
  /** Of these, the new ones. */
  created: z.number().int(),
  /** By field: records of the table in which it became another value. */
  fields: counts,
  /** Records that were refused, or left as they are. */
  left: z.number().int(),
  /** Records that were found, but do not fit the conditions any more, or have gone. */
  passed: z.number().int(),
  /** By table: other records that were written for their sake. */
  effects: counts,
  /** By table: records for which an effect was asked for and held back. */
  heldEffects: counts,
  /** By channel: messages that were sent, and that were held back. */
  messages: counts,
  heldMessages: counts,
  /** By sequence: the first number that was given, and the last. */
  numbers: z.record(z.string(), z.object({ first: z.string(), last: z.string(), count: z.number().int() })),
})
export type BackfillFigures = z.infer<typeof backfillFigures>

export const backfillSample = z.object({
  id: z.number().int(),
  was: recordValues.nullable(),
  now: recordValues.nullable(),
  changes: z.array(change.pick({ field: true, from: true, to: true, by: true })),
})
export type BackfillSample = z.infer<typeof backfillSample>

/** What a rehearsal of a backfill showed. */
export const backfillPlan = z.object({
  plan: z.object({
    /** Records that fit the conditions. */
    total: z.number().int(),
    /** Of these, those that were tried: from the first on, in order. */
    tried: z.number().int(),
    figures: backfillFigures,
    /** The first records with a problem. */
    left: z.array(backfillLeft),
    /** The first that would change. */
    samples: z.array(backfillSample),
    /** What the rehearsal took, milliseconds. */
    ms: z.number(),
    /** Seconds that all would take at that rate; a guess. */
    seconds: z.number(),
  }),
})
export type BackfillPlan = z.infer<typeof backfillPlan>['plan']

export const BACKFILL_STATES = ['running', 'paused', 'done', 'cancelled', 'failed'] as const
export const backfillState = z.enum(BACKFILL_STATES)
export type BackfillState = z.infer<typeof backfillState>

export const backfillInfo = z.object({
  id: z.number().int(),
  /** ISO date and time. */
  at: z.string(),
  user: z.string(),
  table: z.string(),
  /** Null of one that undoes another. */
  wish: keptWish.nullable(),
  /** The backfill that this one undoes. */
  undoes: z.number().int().nullable(),
  /** The one that undoes this one. */
  undoneBy: z.number().int().nullable(),
  state: backfillState,
  /** Why it cannot go on. */
  failure: errorReport.nullable(),
  /** Records that it goes through, and those that it has been through. */
  total: z.number().int(),
  done: z.number().int(),
  figures: backfillFigures,
  ended: z.string().nullable(),
})
export type BackfillInfo = z.infer<typeof backfillInfo>
