import type { MutantResult } from '@patient-hook/contract'
import { mistakeName } from '@patient-hook/contract/words'
import { HookError } from '../../errors.js'
import { runTests, testsReaching, type TestPlan } from '../run-tests.js'
import { differenceBetween } from './difference.js'
import { missesOf, mutantsOf, type Mutant } from './mutants.js'

/** Do the unit tests notice mutations in a hook? Each is tried on the tests that save something the hook looks at. */

const EFFORT = { seed: 1, runs: 60 }

/**
 * @param planFor the project with other texts of some files
 * @param after so many mutants were tried already
 */
export function runMutants(
  plan: TestPlan,
  planFor: (files: Record<string, string>) => TestPlan,
  hook: string,
  after: number,
  tell: { begin(mutant: Mutant): void; result(result: MutantResult): void },
): void {
  const found = plan.program.hooks.find((each) => each.name === hook)!
  const misses = missesOf(plan.project, found)
  const tests = testsReaching(plan).get(hook) ?? []
  for (const mutant of mutantsOf(plan.project, found).slice(after)) {
    tell.begin(mutant)
    const { text: _, ...told } = mutant
    const outcome = outcomeOf(plan, planFor, mutant, tests)
    const reason = outcome.outcome === 'missed' ? (misses[mistakeName(mutant)] ?? null) : null
    tell.result({ ...told, ...outcome, reason })
  }
}

type Outcome = Pick<MutantResult, 'outcome' | 'by' | 'shows' | 'batch' | 'fixtures'>
const NOTHING = { by: null, shows: null, batch: null, fixtures: null }

function outcomeOf(
  plan: TestPlan,
  planFor: (files: Record<string, string>) => TestPlan,
  mutant: Mutant,
  tests: readonly { file: string; name: string }[],
): Outcome {
  let mutated: TestPlan
  try {
    mutated = planFor({ [mutant.file]: mutant.text })
  } catch (error) {
    if (!HookError.is(error)) throw error
    return { ...NOTHING, outcome: 'stopped', by: error.message }
  }
  if (tests.length === 0) return { ...NOTHING, outcome: 'stopped', by: 'no test saves anything that the hook looks at' }
  const names = new Set(tests.map(({ file, name }) => `${file}\n${name}`))
  let by: string | null = null
  runTests(
    mutated,
    (file) => tests.some((test) => test.file === file),
    (file, name) => by === null && names.has(`${file}\n${name}`),
    () => {},
    ({ file, name, status }) => {
      if (status === 'failed') by ??= `${file}: ${name}`
    },
  )
  if (by !== null) return { ...NOTHING, outcome: 'caught', by }
  const shown = differenceBetween(plan, mutated, mutant.hook, EFFORT)
  return shown ? ({ outcome: 'missed', by: null, ...shown } as Outcome) : { ...NOTHING, outcome: 'equal' }
}
