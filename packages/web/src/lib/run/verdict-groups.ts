import type { HookInfo, Verdict } from '@patient-hook/contract'

/** Verdicts that are the same but for the record, in the order of the save path. */
export interface VerdictGroup {
  hook: string
  moment: string
  depth: number
  verdict: Verdict['verdict']
  reason: string
  all: Verdict[]
}

export function groupVerdicts(verdicts: readonly Verdict[], hooks: readonly HookInfo[]): VerdictGroup[] {
  const moments = new Map(hooks.map((hook) => [hook.name, hook.moment]))
  const groups = new Map<string, VerdictGroup>()
  for (const verdict of verdicts) {
    const { hook, depth, reason } = verdict
    const key = `${depth} ${hook} ${verdict.verdict} ${reason}`
    const group = groups.get(key)
    if (group) group.all.push(verdict)
    else groups.set(key, { hook, moment: moments.get(hook) ?? '', depth, verdict: verdict.verdict, reason, all: [verdict] })
  }
  return [...groups.values()]
}
