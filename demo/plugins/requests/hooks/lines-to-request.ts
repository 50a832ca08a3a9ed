import { defineHook } from 'patient-hook'

/** A request's number of lines and of seeds, from its lines. */
export default defineHook({
  table: 'request_line',
  moment: 'after-save',
  on: ['create', 'update', 'delete'],
  finish({ rows, store, update }) {
    const ids = new Set(rows.flatMap((row) => [row.now?.request, row.was?.request]))
    const totals = new Map<number, { lines: number; seeds: number }>()
    for (const [id, lines] of store.children('request_line', 'request', ids, ['packets', 'seeds_per_packet']))
      totals.set(id, {
        lines: lines.length,
        seeds: lines.reduce((sum, line) => sum + (line.packets ?? 0) * (line.seeds_per_packet ?? 0), 0),
      })
    for (const [id, { lines, seeds }] of totals) update('request', id, { line_count: lines, total_seeds: seeds })
  },
})
