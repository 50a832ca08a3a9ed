import type { InputRow } from '@patient-hook/contract'
import type { Program } from '../../save/program.js'
import type { Project } from '../../model/types.js'
import { batches, rowsOf } from '../bulk/batch.js'
import { canonical, differenceOf, type Canonical } from '../bulk/canonical.js'
import { generator } from '../bulk/generator.js'
import { subjectOf, type Subject } from '../bulk/subject.js'
import { oneByOne, together, trial } from '../bulk/trial.js'
import { failureWord } from '../bulk/words.js'

/** A batch that comes out otherwise with a mistake than without it. */

export interface Shown {
  shows: string
  batch: InputRow[]
  fixtures: string | null
}

interface Side {
  project: Project
  program: Program
}

/** @returns null where no batch that was tried tells the two apart */
export function differenceBetween(right: Side, wrong: Side, hook: string, effort: { seed: number; runs: number }): Shown | null {
  const [a, b] = [right, wrong].map(({ project, program }) => {
    const found = program.hooks.find((each) => each.name === hook)!
    return subjectOf(project, program, found, project.tables.get(found.table)!)
  }) as [ReturnType<typeof subjectOf>, ReturnType<typeof subjectOf>]
  // Whatever the mistake makes of what the hook needs: the same hooks are live on both sides.
  b.live = a.live
  const between = (rows: InputRow[]): string | null => {
    for (const savings of [oneByOne(rows), together(rows)]) {
      const shows = differenceOf(told(a, savings), told(b, savings), ['without it', 'with it'])
      if (shows !== null) return shows
    }
    return null
  }
  try {
    const fc = generator()
    for (const batch of fc.sample(batches(a, 3), { seed: effort.seed, numRuns: effort.runs })) {
      let rows = rowsOf(a, batch)
      if (between(rows) === null) continue
      for (const row of rows) {
        const fewer = rows.filter((each) => each !== row)
        if (fewer.length > 0 && between(fewer) !== null) rows = fewer
      }
      return { shows: between(rows)!, batch: rows, fixtures: a.fixtures }
    }
    return null
  } finally {
    a.close()
    b.close()
  }
}

/** What is left behind, and what is refused. */
function told(subject: Subject, savings: Parameters<typeof trial>[1]): Canonical {
  return trial(subject, savings, {}, (of) => {
    const state = canonical(subject, of)
    for (const [place, error] of of.errors) state.set(`row ${place + 1}`, `refused: ${failureWord(error)}`)
    return state
  })
}
