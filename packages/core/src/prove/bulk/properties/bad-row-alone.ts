import type { InputRow, Value } from '@patient-hook/contract'
import type { ErrorReport } from '../../../errors.js'
import { canonical, differenceOf } from '../canonical.js'
import { fits } from '../field-values.js'
import { forBatches } from '../for-batches.js'
import type { BulkProperty } from '../property.js'
import type { Subject } from '../subject.js'
import { accepted, oneByOne, together, trial } from '../trial.js'
import { failureWord } from '../words.js'

/** An id that no record has. */
const DANGLING = 987_654_321

export const badRowAlone: BulkProperty = {
  name: 'bad-row-alone',
  prove: (aim, effort) =>
    forBatches(aim, effort, (subject, all) => {
      const rows = accepted(subject, all, (good) => good.map((place) => all[place]!))
      const [model] = rows
      if (!model || rows.length < 2) return null
      const good = rows.slice(1)
      const alone = trial(subject, together(good), { partial: true }, (of) =>
        of.errors.size > 0 || of.outcomes[0]!.refusals.length > 0 ? null : canonical(subject, of),
      )
      if (!alone) return null
      const refused = [...all.filter((row) => !rows.includes(row)).slice(0, 3), ...bounded(subject, model)]
      for (const bad of [...refused, ...spoiled(subject, model)]) {
        // What is kept alone is not bad.
        const error = trial(subject, oneByOne([bad]), {}, (of) => of.errors.get(0))
        // What checks refuse for the records that are there may be well beside other rows.
        if (!error || (refused.includes(bad) && !isByHook(error))) continue
        const word = `with a bad row (${wordOf(bad) ?? failureWord(error)})`
        // The bad row stands between the good ones, and has no place among them.
        const mixed = [good[0]!, bad, ...good.slice(1)]
        const places = [0, -1, ...good.slice(1).map((_, at) => at + 1)]
        const reason = trial(subject, [{ rows: mixed, places }], { partial: true }, (of) => {
          const [outcome] = of.outcomes
          if (outcome!.error) return `${word} nothing is kept: ${failureWord(outcome!.error)}`
          // Beside others it may be well: two lines that leave a document together.
          if (!outcome!.refusals.some((refusal) => refusal.row === 2)) return null
          const others = outcome!.refusals.find((refusal) => refusal.row !== 2)
          if (others) return `${word} another one is refused: ${failureWord(others)}`
          return differenceOf(canonical(subject, of), alone, [word, 'without it'])
        })
        if (reason !== null) return reason
      }
      return null
    }),
}

/** The row with numbers that the hook's code names, and those beside them: what it may refuse. */
function bounded(subject: Subject, row: InputRow): InputRow[] {
  if (row.remove || row.table !== subject.table.name) return []
  const fields = subject.table.fields.filter(({ name, type }) => type !== 'string' && subject.watched.includes(name))
  const numbers = subject.literals.filter((value) => typeof value === 'number')
  return fields
    .flatMap((field) => numbers.filter((value) => fits(field, value)).map((value) => [field.name, value] as const))
    .slice(0, MOST_BOUNDED)
    .map(([name, value]) => ({ ...row, values: { ...row.values, [name]: value } }))
}
/** Each is tried alone first. */
const MOST_BOUNDED = 8

const isByHook = (error: ErrorReport): boolean => [error, ...(error.refusals ?? [])].every(({ code }) => code.startsWith('hook/'))

/** The row with one thing wrong in it, in each way. */
function* spoiled(subject: Subject, row: InputRow): Generator<InputRow> {
  if (row.remove) return
  const { fields } = subject.environment.project.tables.get(row.table)!
  const having = (name: string, value: Value): InputRow => ({ ...row, values: { ...row.values, [name]: value } })
  for (const field of fields) {
    if (field.link) {
      yield having(field.name, DANGLING)
      yield having(field.name, null)
    } else if (field.required) yield having(field.name, null)
    if (field.maximum !== null) yield having(field.name, field.maximum + 1000)
    if (field.minimum !== null) yield having(field.name, field.minimum - 1000)
  }
}

function wordOf({ values = {} }: InputRow): string | null {
  const [odd] = Object.entries(values).find(([, value]) => value === DANGLING) ?? []
  return odd === undefined ? null : `${odd} links to nothing`
}
