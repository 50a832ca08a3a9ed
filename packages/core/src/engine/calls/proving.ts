import type { BulkPropertyName, BulkVerdict, Files } from '@patient-hook/contract'
import { HookError } from '../../errors.js'
import { hintFor } from '../../model/names.js'
import { aimsOf, proveBulk, type BulkAim } from '../../prove/bulk/prove-bulk.js'
import type { Effort } from '../../prove/bulk/property.js'
import type { OpenProject } from '../open-project.js'

/** The bulk proof, on fixture sets only. Tells `property` with each verdict. */

/** What there is to prove. @param hooks only these; undefined: all, and every table's whole save path @throws HookError for one that is not there */
export function bulkAims(open: OpenProject, drafts: Files | undefined, hooks: string[] | undefined): BulkAim[] {
  const { program } = open.runtimes.with(drafts)
  const names = program.hooks.map((hook) => hook.name)
  const unknown = hooks?.find((hook) => !names.includes(hook))
  if (unknown !== undefined)
    throw new HookError('request/bad', { detail: `there is no hook ${unknown}${hintFor(unknown, names)}` })
  return aimsOf(program, hooks)
}

export function bulkProof(
  open: OpenProject,
  drafts: Files | undefined,
  aim: BulkAim,
  effort: Effort,
  only: BulkPropertyName[] | undefined,
): void {
  const { project, program } = open.runtimes.with(drafts)
  proveBulk(project, program, aim, effort, (verdict: BulkVerdict) => open.tell('property', verdict), only)
}
