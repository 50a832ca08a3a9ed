import { defineHook } from 'patient-hook'

/** A request is refused as a whole when its lines ask for more seed of a lot than the lot holds. */
export default defineHook({
  table: 'request',
  moment: 'before-commit',
  touchedBy: ['request_line.request'],
  only: (row) => row.now.status !== 'sent',
  load({ rows, store }) {
    const lines = store.children(
      'request_line',
      'request',
      rows.map((row) => row.id),
      ['lot', 'packets', 'seeds_per_packet'],
    )
    const lots = store.byId(
      'lot',
      [...lines.values()].flatMap((each) => each.map((line) => line.lot)),
      ['accession', 'seed_estimate'],
    )
    return { lines, lots }
  },
  each(row, { lines, lots }) {
    const asked = new Map<number, number>()
    for (const { lot, packets, seeds_per_packet } of lines.get(row.id) ?? [])
      if (lot !== null) asked.set(lot, (asked.get(lot) ?? 0) + (packets ?? 0) * (seeds_per_packet ?? 0))
    for (const [id, seeds] of asked) {
      const lot = lots.get(id)
      if (lot && lot.seed_estimate !== null && seeds > lot.seed_estimate)
        row.refuse('total_seeds', `${seeds} seeds of lot ${lot.accession ?? id} are asked for, which holds ${lot.seed_estimate}`)
    }
  },
})
