import type { BulkPropertyName, BulkVerdict } from '@patient-hook/contract'
import type { Program } from '../../save/program.js'
import type { Project } from '../../model/types.js'
import { PROPERTIES } from './properties/index.js'
import type { Effort } from './property.js'
import { subjectOf, withoutAccepted, type Subject } from './subject.js'
import { failureWord } from './words.js'

/** The bulk proof of one hook, or of all hooks of a table together: property by property. */

export interface BulkAim {
  /** Null: the whole save path of the table. */
  hook: string | null
  table: string
}

const NOT_WOKEN = 'the hook ran for no row that was tried: its fixture sets have none that wakes it'
const nothingKept = ({ tally: { failure } }: Subject): string =>
  `no row that was tried was kept${failure ? `: ${failureWord(failure)}` : ''}`

/** Every hook that is not off, then every table that has hooks. */
export function aimsOf(program: Program, hooks?: readonly string[]): BulkAim[] {
  const live = program.hooks.filter((hook) => hook.state.state !== 'off')
  const wanted = live.filter((hook) => hooks?.includes(hook.name) ?? true)
  const single = wanted.map(({ name, table }) => ({ hook: name, table }))
  const tables = hooks ? [] : [...new Set(live.map(({ table }) => table))].map((table) => ({ hook: null, table }))
  return [...single, ...tables]
}

/** @param tell is given each verdict as it comes */
export function proveBulk(
  project: Project,
  program: Program,
  aim: BulkAim,
  effort: Effort,
  tell: (verdict: BulkVerdict) => void,
  only?: readonly BulkPropertyName[],
): void {
  const hook = program.hooks.find((each) => each.name === aim.hook) ?? null
  const subject = subjectOf(project, program, hook, project.tables.get(aim.table)!)
  try {
    for (const property of PROPERTIES.filter((each) => only?.includes(each.name) ?? true)) {
      const before = { ...subject.tally }
      const { subject: aimed, without } = withoutAccepted(subject, property.name)
      const { reason, batch, growth } = property.prove(aimed, effort)
      const [rows, ran] = [subject.tally.rows - before.rows, subject.tally.ran - before.ran]
      const told = reason ?? (ran === 0 ? NOT_WOKEN : subject.tally.kept === before.kept ? nothingKept(subject) : null)
      const accepts = told === null ? undefined : subject.accepts[property.name]
      tell({
        ...aim,
        property: property.name,
        holds: told === null,
        accepted: accepts !== undefined,
        reason: accepts ?? told,
        batch: batch as BulkVerdict['batch'],
        fixtures: subject.fixtures,
        without,
        rows,
        ran,
        growth: growth ?? null,
      })
    }
  } finally {
    subject.close()
  }
}
