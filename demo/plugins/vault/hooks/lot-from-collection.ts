import { defineHook } from 'patient-hook'

/**
 * A new lot takes its species and notes from the collection, and handling notes from the latest lot of the same
 * collection. Lots that are created together see the lots that existed before.
 */
export default defineHook({
  table: 'lot',
  moment: 'before-save',
  on: ['create'],
  watch: ['collection'],
  load({ rows, store }) {
    const ids = rows.map((row) => row.now.collection)
    // Looked for once for each collection: a thousand lots of one would else look a thousand times through their siblings.
    const siblings = store.children('lot', 'collection', ids, ['handling_notes'])
    const notes = new Map<number, string | null>()
    for (const [collection, lots] of siblings)
      notes.set(collection, lots.findLast((lot) => lot.handling_notes !== null)?.handling_notes ?? null)
    return { collections: store.byId('collection', ids, ['species', 'status_note']), notes }
  },
  each(row, { collections, notes }) {
    const { collection: id } = row.now
    const collection = collections.get(id)
    row.now.species ??= collection?.species ?? null
    row.now.collection_notes ??= collection?.status_note ?? null
    row.now.handling_notes ??= (id === null ? null : notes.get(id)) ?? null
  },
})
