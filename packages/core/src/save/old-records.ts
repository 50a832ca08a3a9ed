import type { RecordValues } from '../model/types.js'
import type { Shape } from '../store/shape.js'

/** Records as they were before a save changes, copies or removes them. */
export interface OldRecords {
  /** Of the fields that were read. */
  shape: Shape
  stored: ReadonlyMap<number, RecordValues>
}
