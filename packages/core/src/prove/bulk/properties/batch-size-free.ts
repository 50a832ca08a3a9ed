import { canonical, differenceOf } from '../canonical.js'
import { forBatches } from '../for-batches.js'
import type { BulkProperty } from '../property.js'
import { accepted, together, trial } from '../trial.js'
import { failureWord } from '../words.js'

export const batchSizeFree: BulkProperty = {
  name: 'batch-size-free',
  prove: (aim, effort) =>
    forBatches(aim, effort, (subject, all) => {
      const rows = accepted(subject, all, (good) => good.map((place) => all[place]!))
      if (rows.length < 2) return null
      const whole = trial(subject, together(rows), {}, (of) => (of.errors.size > 0 ? null : canonical(subject, of)))
      if (!whole) return null
      for (const batchSize of [1, 2]) {
        const reason = trial(subject, together(rows), { batchSize }, (cut) => {
          const [error] = cut.errors.values()
          if (error) return `in batches of ${batchSize} it is not kept: ${failureWord(error)}`
          return differenceOf(whole, canonical(subject, cut), ['as one batch', `in batches of ${batchSize}`])
        })
        if (reason !== null) return reason
      }
      return null
    }),
}
