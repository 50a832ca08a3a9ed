import { HookError, type SaveOutcome } from '@patient-hook/core'

/** What a save is answered with: what it did, or why nothing is kept. @throws HookError */
export function answerOfSave(outcome: SaveOutcome): SaveOutcome {
  if (outcome.error) throw new HookError(outcome.error)
  // Of a partial save nothing may be left.
  const [refusal] = outcome.refusals
  if (!outcome.kept && refusal) throw new HookError({ ...refusal, refusals: outcome.refusals })
  return outcome
}
