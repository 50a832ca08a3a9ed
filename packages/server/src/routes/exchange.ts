import { Router } from 'express'
import { belongsToProject, ROUTES } from '@patient-hook/contract'
import {
  filesAfter,
  HookError,
  merged,
  neededWord,
  openWorkbench,
  planImport,
  readZip,
  writeZip,
  zipOfPlugin,
  type Application,
  type FileRow,
} from '@patient-hook/core'
import { serve, type ServeOptions } from '../serve.js'
import type { Delivery } from '../services/delivery.js'
import type { Backfills } from '../services/backfills.js'
import { csvOfBackfill, csvResult } from '../services/csv-in.js'
import type { Jobs } from '../services/jobs.js'

/** More rows than these are saved batch by batch, so that other saves come through, and what is done can be stopped and undone. */
const MOST_IN_ONE_SAVE = 5000
const NOTHING = { created: 0, changed: 0, ripples: 0 }
const NO_SAVE = { save: null, refusals: [], sent: [], error: null }

/** In and out of the house: zips of plugins and of the project, tables as CSV. */
export function exchangeRoutes(
  { live, tries, reader }: Application,
  jobs: Jobs,
  delivery: Delivery,
  backfills: Backfills,
  options: ServeOptions,
): Router {
  const router = Router()
  const open = ({ name, zip }: { name: string; zip: string }) => readZip(name, Buffer.from(zip, 'base64'), belongsToProject)

  serve(router, ROUTES.exportZip, options, async ({ query: { plugin } }) => {
    const files = plugin === undefined ? live.files : zipOfPlugin(live.files, plugin)
    return { name: `${plugin ?? live.info.name}.zip`, zip: (await writeZip(files)).toString('base64') }
  })
  serve(router, ROUTES.planImport, options, async ({ body }) => {
    const incoming = await open(body)
    return jobs.begin('import', `What is in ${body.name}`, async (job) => {
      const now = live.files
      const engines = openWorkbench(filesAfter(now, merged(now, incoming).changed))
      try {
        const { signal } = job
        job.result(await planImport(engines, now, incoming, { signal, onProgress: (done, total) => job.progress(done, total) }))
      } finally {
        await engines.close()
      }
    })
  })
  serve(router, ROUTES.importZip, options, async ({ body, signal }) => {
    const { changed, plan } = merged(live.files, await open(body))
    const plugins = plan.plugins.map(({ plugin }) => plugin)
    const needs = await tries.call('missingFields', [filesAfter(live.files, changed), plugins], { signal, bare: true })
    if (needs.length > 0) throw new HookError('zip/needs', { file: body.name, detail: needs.map(neededWord).join(', ') })
    const change = Object.keys(changed).length === 0 ? null : await live.putFiles(changed)
    return { plan, change }
  })
  serve(router, ROUTES.tableCsv, options, async ({ params: { table }, query: { safe } }) => ({
    name: `${table}.csv`,
    text: await reader.read('csv', table, safe === 'true'),
  }))
  serve(router, ROUTES.readCsvColumns, options, ({ params: { table }, body: { file, text }, signal }) =>
    tries.call('readCsvColumns', [table, file, text], { signal }),
  )
  serve(router, ROUTES.importCsv, options, async ({ params: { table }, body: { file, text, columns, user, partial, dry } }) => {
    const title = dry ? `What ${file} would do to ${table}` : `${file} into ${table}`
    const info = jobs.begin('csv', title, async (job) => {
      const { signal } = job
      if (dry) {
        const tried = await tries.call('tryCsvRows', [table, file, text, columns ?? null, { user, partial }], { signal })
        job.progress(tried.read.rows, tried.read.rows)
        return job.result(csvResult(tried))
      }
      const { rows, ...others } = await tries.call('readCsvRows', [table, file, text, columns ?? null, partial], { signal })
      const read = { ...others, rows: rows.length }
      if (rows.length === 0) return job.result(csvResult({ read, outcome: NO_SAVE, counts: NOTHING, records: [] }))
      job.progress(0, rows.length)
      // What was stopped by now is not begun; a save that has begun ends.
      signal.throwIfAborted()
      if (rows.length > MOST_IN_ONE_SAVE) {
        // Either all rows are kept or none: what would be refused is known before the first is saved.
        if (!partial) {
          const tried = await tries.call('tryCsvRows', [table, file, text, columns ?? null, { user, partial }], { signal })
          if (tried.outcome.error) return job.result(csvResult(tried))
        }
        const wish = { table, where: {}, order: [], withEffects: true, withMessages: true, rows: { file, partial } }
        const numbered = rows.map((row, at): FileRow => [read.numbers?.[at] ?? at + 1, row])
        const left = read.unreadable.map(({ row, field, message }) => ({ table, id: row ?? 0, field: field ?? null, message }))
        const backfill = await live.beginRows(wish, user ?? live.info.users[0]?.name ?? 'owner', numbered, {
          unread: read.left,
          left,
        })
        await backfills.runWithin(backfill, info.id, job).catch((error: unknown) => {
          // How far it came is reported all the same.
          if (!HookError.is(error)) throw error
        })
        job.result(csvOfBackfill(await reader.read('backfill', backfill.id), read.left))
        return signal.throwIfAborted()
      }
      const outcome = await live.save(rows, { user, partial, returnRecords: false })
      if (outcome.sent.length > 0) delivery.wake()
      job.progress(rows.length, rows.length)
      const { save } = outcome
      const counts = save === null ? NOTHING : await reader.read('savedCounts', save)
      const { records } = save === null ? { records: [] } : await reader.read('save', save)
      job.result(csvResult({ read, outcome, counts, records }))
    })
    return info
  })
  return router
}
