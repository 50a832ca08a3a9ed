import { HookError, type SaveOutcome } from '@patient-hook/core'

/** The answer to a save: its result, or the reason why it was rolled back. @throws HookError */
export function answerOfSave(outcome: SaveOutcome): SaveOutcome {
  if (outcome.error) throw new HookError(outcome.error)
  // Of a partial save nothing may be left.
  const [refusal] = outcome.refusals
  if (!outcome.kept && refusal) throw new HookError({ ...refusal, refusals: outcome.refusals })
  return outcome
}
