import { z } from 'zod'
import { route } from '../route.js'
import { fixtureChange, fixtureRow, fixtureSet } from '../shapes/fixtures.js'
import { anyName, files, LONGEST_FILE } from '../shapes/values.js'

/** Fixture sets: read with what is wrong in them, and changed. Nothing is kept: the texts that come back are drafts. */

const setName = z
  .string()
  .max(60)
  .regex(/^[a-z0-9][a-z0-9_-]*$/, 'a fixture set has a name of small letters, digits, - and _')
const ofSet = z.strictObject({ set: setName, drafts: files.optional() })

export const fixtureRoutes = {
  readFixtures: route({
    method: 'POST',
    path: '/fixtures/read',
    summary: 'The rows of a fixture set, and what is wrong with them.',
    body: ofSet,
    answer: fixtureSet,
  }),
  writeFixtures: route({
    method: 'POST',
    path: '/fixtures/write',
    summary: 'The text of a table’s file of a fixture set with these rows, and what is wrong with the set then.',
    body: ofSet.extend({ table: anyName, rows: z.array(fixtureRow).max(20_000) }),
    answer: fixtureChange,
  }),
  takeFixtures: route({
    method: 'POST',
    path: '/fixtures/take',
    summary: 'A fixture set with live records added, and all that they link to.',
    body: ofSet.extend({
      records: z
        .array(z.strictObject({ table: anyName, ids: z.array(z.number().int()).min(1).max(2000) }))
        .min(1)
        .max(50),
    }),
    answer: fixtureChange,
  }),
  readFixtureCsv: route({
    method: 'POST',
    path: '/fixtures/csv',
    summary:
      'A fixture set with the rows of a CSV file in place of a table’s; its columns are headed by names or labels of fields.',
    body: ofSet.extend({ table: anyName, file: z.string().max(300), text: z.string().max(LONGEST_FILE) }),
    answer: fixtureChange,
  }),
  fixtureCsv: route({
    method: 'POST',
    path: '/fixtures/csv/out',
    summary: 'The rows of a table of a fixture set as CSV.',
    body: ofSet.extend({ table: anyName }),
    answer: z.object({ text: z.string() }),
  }),
  makeFixtures: route({
    method: 'POST',
    path: '/fixtures/make',
    summary: 'A fixture set with rows added that are made from the table’s schema; the same seed makes the same rows.',
    body: ofSet.extend({
      table: anyName,
      count: z.number().int().min(1).max(2000),
      seed: z.number().int().nonnegative().max(0x7fffffff),
    }),
    answer: fixtureChange,
  }),
}
