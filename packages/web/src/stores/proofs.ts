import {
  mergeProofs,
  PROOF_PARTS,
  type JobInfo,
  type KnownProofs,
  type ProofPart,
  type ProofResult,
} from '@patient-hook/contract'
import { useDebounceFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import { ApiError, api } from '../lib/api'
import { useJob } from '../lib/use-job'
import { useDrafts } from './drafts'
import { useProject } from './project'

/** What is proved of the code in the editor, part by part: what the server knows of this very code, and what is being measured. */

/** Until what is known is asked for again, after the code changed; milliseconds. */
const PAUSE = 400

export const useProofs = defineStore('proofs', () => {
  const project = useProject()
  const drafts = useDrafts()
  const known = shallowRef<KnownProofs | null>(null)
  const error = shallowRef<ApiError | null>(null)

  async function look(): Promise<void> {
    if (!project.info) return
    const asked = drafts.drafts
    try {
      const answer = await api.knownProofs(asked)
      if (asked === drafts.drafts) known.value = answer
    } catch (thrown) {
      if (!(thrown instanceof ApiError)) throw thrown
      error.value = thrown
    }
  }
  const lookSoon = useDebounceFn(look, PAUSE)
  /** False from a change of the code until it is known what was measured of it. */
  const isCurrent = shallowRef(false)
  watch(
    () => [project.info, drafts.drafts],
    () => {
      isCurrent.value = false
      void lookSoon()
    },
  )
  watch(known, () => (isCurrent.value = true))
  void look()

  function partOf<P extends ProofPart>(part: P, start: (hooks?: string[]) => Promise<JobInfo>) {
    const { results: measured, job, error: failure, running, begin, stop } = useJob(part)
    const isOfThisCode = computed(() => job.value !== null && job.value.code === known.value?.code)
    /** Null: nothing is known of this code. */
    const results = computed((): readonly ProofResult<P>[] | null => {
      if (!isCurrent.value) return null
      const before = (known.value?.[part] ?? null) as readonly ProofResult<P>[] | null
      const fresh = isOfThisCode.value && measured.value && (running.value || measured.value.length > 0) ? measured.value : null
      return fresh ? mergeProofs(part, before ?? [], fresh as never) : before
    })
    const isStale = computed(() => isCurrent.value && results.value === null && (known.value?.stale.includes(part) ?? false))
    // What ended is kept by the server, in whole.
    watch(running, (now) => {
      if (!now) void look()
    })
    return { results, isStale, job, error: failure, running, prove: (hooks?: string[]) => begin(() => start(hooks)), stop }
  }
  const parts = {
    findings: partOf('findings', () => api.proveFindings(drafts.drafts)),
    coverage: partOf('coverage', () => api.proveCoverage(drafts.drafts)),
    mutation: partOf('mutation', (hooks) => api.proveMutants(drafts.drafts, hooks)),
    bulk: partOf('bulk', (hooks) => api.proveBulk(drafts.drafts, hooks)),
  }
  const running = computed(() => PROOF_PARTS.some((part) => parts[part].running.value))
  /** Measured once, but on other code. */
  const stale = computed(() => PROOF_PARTS.filter((part) => parts[part].isStale.value))
  const anyKnown = computed(() => PROOF_PARTS.some((part) => parts[part].results.value !== null))
  /** Of the first part that could not be measured. */
  const failure = computed(() => error.value ?? PROOF_PARTS.map((part) => parts[part].error.value).find((each) => each) ?? null)
  return { parts, running, stale, anyKnown, failure }
})
