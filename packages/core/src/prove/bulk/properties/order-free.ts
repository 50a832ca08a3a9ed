import { canonical, differenceOf } from '../canonical.js'
import { forBatches } from '../for-batches.js'
import type { BulkProperty } from '../property.js'
import { accepted, together, trial } from '../trial.js'
import { failureWord } from '../words.js'

export const orderFree: BulkProperty = {
  name: 'order-free',
  prove: (aim, effort) =>
    forBatches(aim, effort, (subject, all) => {
      const rows = accepted(subject, all, (good) => good.map((place) => all[place]!))
      if (rows.length < 2) return null
      const forwards = trial(subject, together(rows), {}, (of) => (of.errors.size > 0 ? null : canonical(subject, of)))
      // What is not kept at all is another property's business.
      if (!forwards) return null
      const places = [...rows.keys()].reverse()
      return trial(subject, [{ rows: places.map((place) => rows[place]!), places }], {}, (backwards) => {
        const [error] = backwards.errors.values()
        if (error) return `from last to first it is not kept: ${failureWord(error)}`
        return differenceOf(forwards, canonical(subject, backwards), ['in the order given', 'from last to first'])
      })
    }),
}
