import type { RunningServer } from '@patient-hook/server'

/** What became of a backup that was restored. */
export function restoredLines(restored: RunningServer['restored']): string[] {
  if (!restored) return []
  const { aside, carried } = restored
  const lines = aside === null ? [] : [`The records from before the restore are in ${aside}`]
  if (aside !== null && carried === null)
    lines.push('They cannot be read: revoked keys and numbers given since the backup are not carried over')
  if (carried) {
    const { keys, sequences, numbers, releases } = carried
    lines.push(
      `Carried over from them: ${keys} API keys (revoked or made since), ${sequences} number series, ${numbers} message and save numbers, ${releases} versions`,
    )
  }
  return lines
}
