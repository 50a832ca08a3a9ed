import type { HookInfo } from '@patient-hook/contract'
import { computed } from 'vue'
import { useDrafts } from '../../stores/drafts'
import { useHooks } from '../../stores/hooks'
import { useProofs } from '../../stores/proofs'
import { useReleases } from '../../stores/releases'
import { ICONS } from '../../theme/icons'
import { proofLines } from '../prove/proofs'

/** What is worth knowing of a hook in the list. */
export interface HookBadge {
  icon: string
  says: string
  color: string
}

/** @returns badges by the hook: paused, off, pilot, failing tests, findings, not released, unsaved */
export function useHookBadges(): (hook: HookInfo) => HookBadge[] {
  const hooks = useHooks()
  const drafts = useDrafts()
  const proofs = useProofs()
  const releases = useReleases()
  const lines = computed(() => {
    const { findings, coverage } = proofs.parts
    const measured = { findings: findings.results, coverage: coverage.results, mutation: null, bulk: null }
    return new Map(proofLines(hooks.all, measured).map((line) => [line.hook, line]))
  })
  const live = computed(() => new Map((releases.overview?.hooks ?? []).map((hook) => [hook.hook, hook])))
  const unreleased = computed(() => new Set(releases.plugins.flatMap(({ working }) => working.files.map(({ file }) => file))))
  const plural = (count: number, word: string) => `${count} ${word}${count === 1 ? '' : 's'}`

  return (hook) => {
    const line = lines.value.get(hook.name)
    const failed = line?.tests?.filter(({ status }) => status === 'failed').length ?? 0
    const findings = line?.findings?.length ?? 0
    const { paused, switched } = live.value.get(hook.name) ?? {}
    const badges: (HookBadge | false)[] = [
      paused !== null && paused !== undefined && { icon: ICONS.refused, says: 'paused on saves', color: 'error' },
      switched?.state === 'off' && { icon: ICONS.off, says: `switched off on saves by ${switched.user}`, color: 'warning' },
      hook.state.state === 'off' && { icon: ICONS.off, says: 'off', color: 'secondary' },
      hook.state.state === 'pilot' && { icon: ICONS.pilot, says: `pilot: ${hook.state.users.join(', ')}`, color: 'info' },
      failed > 0 && { icon: ICONS.failed, says: `${plural(failed, 'test')} failed`, color: 'error' },
      findings > 0 && { icon: ICONS.warning, says: plural(findings, 'finding'), color: 'warning' },
      drafts.hasEdits(hook.file)
        ? { icon: ICONS.unsaved, says: 'unsaved changes', color: 'copper' }
        : unreleased.value.has(hook.file) && { icon: ICONS.release, says: 'not released', color: 'copper' },
    ]
    return badges.filter((badge) => badge !== false)
  }
}
