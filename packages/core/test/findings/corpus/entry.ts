/**
 * Small hooks as people write them, with what must be found in each: the names of the rules, nothing more and nothing
 * less. Hooks of one entry are joined by a line of three dashes; the findings are those of all of them.
 */
export interface Entry {
  what: string
  hooks: string
  finds: string[]
}

/** A hook on lots that copies from the collection, with what it does in each. */
export const copy = (each: string, more = '') =>
  `{ table: 'lot', moment: 'before-save', ${more} watch: ['collection'], load: ({ rows, store }) => store.byId('collection', rows.map(r => r.now.collection), ['species', 'status_note']), ${each} }`
/** A hook on lots that looks at the lots of the same collection. */
export const siblings = (
  each: string,
  load = `store.children('lot', 'collection', rows.map(r => r.now.collection), ['status'])`,
) =>
  `{ table: 'lot', moment: 'after-save', on: ['update'], watch: ['handling_notes'], load: ({ rows, store }) => ${load}, ${each} }`
