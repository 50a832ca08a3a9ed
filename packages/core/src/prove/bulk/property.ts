import type { BulkPropertyName, Growth, InputRow } from '@patient-hook/contract'
import type { Subject } from './subject.js'

/** What holds of every batch of a hook that is bulk safe. A new property is a file like the others, added to properties/index.ts. */
export interface BulkProperty {
  name: BulkPropertyName
  prove(subject: Subject, effort: Effort): Finding
}

export interface Effort {
  /** fast-check's. */
  seed: number
  /** Batches that are tried at most. */
  runs: number
  /** Milliseconds after which no further batch is begun. */
  ms: number
}

/** Null reason: it holds. */
export interface Finding {
  reason: string | null
  batch: InputRow[] | null
  growth?: Growth
}

export const HOLDS: Finding = { reason: null, batch: null }
