import { z } from 'zod'
import { route } from '../route.js'
import { csvColumns, csvMapping } from '../shapes/csv.js'
import { importPlan } from '../shapes/exchange.js'
import { jobInfo } from '../shapes/jobs.js'
import { projectChange } from '../shapes/project-change.js'
import { anyName, LONGEST_RECORDS, name, user } from '../shapes/values.js'

/** In and out of the house: zips of a plugin or the project, tables as CSV. */

/** A zip in base64 (RFC 4648); 15 MB at most, so it fits into a request. */
const zip = z.string().max(20_000_000)
const csvFile = z.strictObject({ file: z.string().min(1).max(300), text: z.string().max(LONGEST_RECORDS) })
const body = z.strictObject({ name: z.string().min(1).max(300), zip })

export const exchangeRoutes = {
  exportZip: route({
    method: 'GET',
    path: '/export',
    summary: 'The working copy as a zip in base64: of the project, or of a plugin with the fixture sets that its tests name.',
    query: z.object({ plugin: anyName.optional() }),
    answer: z.object({ name: z.string(), zip: z.string() }),
  }),
  planImport: route({
    method: 'POST',
    path: '/import/plan',
    summary: 'Begins to look at what taking in a zip would do, as a job. Nothing is kept.',
    body,
    answer: jobInfo,
    status: 202,
  }),
  importZip: route({
    method: 'POST',
    path: '/import',
    summary: 'Takes plugins and fixture sets of a zip into the working copy, all or nothing.',
    body,
    answer: z.object({
      plan: importPlan.pick({ plugins: true, files: true, left: true }),
      /** Null where it contains no changes. */
      change: projectChange.nullable(),
    }),
  }),
  tableCsv: route({
    method: 'GET',
    path: '/tables/:table/csv',
    summary: 'All records of a table as CSV (RFC 4180).',
    params: z.object({ table: name }),
    /** Text that a spreadsheet would run as a formula gets an apostrophe before it. */
    query: z.object({ safe: z.enum(['true', 'false']).default('false') }),
    answer: z.object({ name: z.string(), text: z.string() }),
  }),
  readCsvColumns: route({
    method: 'POST',
    path: '/tables/:table/csv/columns',
    summary: 'What the columns of a CSV file may be read as. Nothing is kept.',
    params: z.object({ table: name }),
    body: csvFile,
    answer: csvColumns,
  }),
  importCsv: route({
    method: 'POST',
    path: '/tables/:table/csv',
    summary:
      'Begins to save the rows of a CSV file in one save, through all hooks, as a job: rows with an id change that record, the others are new. Fields that no column is read as stay as they are.',
    params: z.object({ table: name }),
    body: csvFile.extend({
      /** Default: each column’s head is the field’s name. */
      columns: csvMapping.optional(),
      user: user.optional(),
      /** Keep the good rows when others are refused. */
      partial: z.boolean().default(false),
      /** Only rehearse it, with the releases that the user gets. */
      dry: z.boolean().default(false),
    }),
    answer: jobInfo,
    status: 202,
  }),
}
