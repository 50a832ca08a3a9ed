import type { BulkPropertyName, BulkVerdict, Files } from '@patient-hook/contract'
import { HookError } from '../../errors.js'
import { hintFor } from '../../model/names.js'
import { aimsOf, proveBulk, type BulkAim } from '../../prove/bulk/prove-bulk.js'
import type { Effort } from '../../prove/bulk/property.js'
import { missesOf, mutantsOf } from '../../prove/mutation/mutants.js'
import { runMutants } from '../../prove/mutation/run-mutants.js'
import type { OpenProject } from '../open-project.js'

/** Proofs, on fixture sets only. The bulk proof tells `property` with each verdict; mutants tell `mutant` before each and `result` after it. */

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

/** The hooks that have mutants, each with how many. @throws HookError for one that is not there */
export function mutantAims(
  open: OpenProject,
  drafts: Files | undefined,
  hooks: string[] | undefined,
): { hook: string; count: number }[] {
  const { project, program } = open.runtimes.with(drafts)
  return bulkAims(open, drafts, hooks).flatMap(({ hook }) => {
    const found = program.hooks.find((each) => each.name === hook)
    if (found) missesOf(project, found)
    return found ? [{ hook: found.name, count: mutantsOf(project, found).length }] : []
  })
}

/** @param after so many of them were tried already */
export function mutants(open: OpenProject, drafts: Files | undefined, hook: string, after: number): void {
  runMutants(open.runtimes.with(drafts), (files) => open.runtimes.with({ ...drafts, ...files }), hook, after, {
    begin: ({ text: _, ...mutant }) => open.tell('mutant', mutant),
    result: (result) => open.tell('result', result),
  })
}
