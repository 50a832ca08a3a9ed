import { watchDebounced } from '@vueuse/core'
import { shallowRef, type Ref } from 'vue'
import { language } from '../../../language/client'
import { useDrafts } from '../../../stores/drafts'
import { useProject } from '../../../stores/project'

export interface Problem {
  file: string
  line: number
  column: number
  severity: string
  message: string
  /** A rule of the findings, or `TS` and a number. */
  source: string
}

const PAUSE_MS = 600
const RANK: Record<string, number> = { error: 0, warning: 1, hint: 2 }

/** Findings and type errors in all code of a plugin as edited; looked for while the panel is shown. */
export function useProblems(plugin: Ref<string>) {
  const drafts = useDrafts()
  const project = useProject()
  const problems = shallowRef<readonly Problem[] | null>(null)
  let asked = 0

  async function look(): Promise<void> {
    const mine = ++asked
    const paths = await language('paths', `plugins/${plugin.value}/`)
    const found: Problem[] = []
    for (const file of paths) {
      const { diagnostics, findings } = await language('look', file)
      if (mine !== asked) return
      found.push(
        ...findings.map(({ line, column, severity, message, rule }) => ({ file, line, column, severity, message, source: rule })),
        ...diagnostics.map(({ line, column, severity, message, code }) => ({
          file,
          line,
          column,
          severity,
          message,
          source: `TS${code}`,
        })),
      )
    }
    problems.value = found.sort((a, b) => (RANK[a.severity] ?? 3) - (RANK[b.severity] ?? 3))
  }
  watchDebounced([plugin, () => drafts.drafts, () => project.info], look, { debounce: PAUSE_MS, immediate: true })
  return { problems }
}
