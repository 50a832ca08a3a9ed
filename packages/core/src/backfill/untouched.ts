import type { Store } from '../store/database.js'

/**
 * Whether anything was written since a backfill chose its records, but what it wrote to them itself: as long as nothing was, those that it
 * has not come to fit its conditions still. Known of the latest one, by the process in which it began.
 */
const marks = new WeakMap<Store, { id: number; mark: string }>()

/** Only its own records were written since it chose them. */
export const noteUntouched = (store: Store, id: number): void => void marks.set(store, { id, mark: store.mark() })

export function isUntouched(store: Store, id: number): boolean {
  const last = marks.get(store)
  return last?.id === id && last.mark === store.mark()
}
