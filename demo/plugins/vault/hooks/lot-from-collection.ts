import { defineHook } from 'patient-hook'

/**
 * A new lot takes its species and notes from the collection, and handling notes from the latest lot of the same
 * collection. Lots that are created together see the lots that were there before.
 */
export default defineHook({
  table: 'lot',
  moment: 'before-save',
  on: ['create'],
  watch: ['collection'],
  load({ rows, store }) {
    const ids = rows.map((row) => row.now.collection)
    return {
      collections: store.byId('collection', ids, ['species', 'status_note']),
      siblings: store.children('lot', 'collection', ids, ['handling_notes']),
    }
  },
  each(row, { collections, siblings }) {
    const collection = collections.get(row.now.collection)
    row.now.species ??= collection?.species ?? null
    row.now.collection_notes ??= collection?.status_note ?? null
    const latest = siblings.get(row.now.collection)?.findLast((lot) => lot.id !== row.id && lot.handling_notes !== null)
    row.now.handling_notes ??= latest?.handling_notes ?? null
  },
})
