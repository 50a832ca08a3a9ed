import { createHash } from 'node:crypto'
import { readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { makeFolder } from '@patient-hook/core/workbench'
import { z } from 'zod'
import {
  mergeProofs,
  PROOF_PARTS,
  PROOFS,
  type Files,
  type KnownProofs,
  type ProofPart,
  type ProofResult,
} from '@patient-hook/contract'

/** What was measured of the code, a file for each part in the application's folder, with the name of the code that it was measured on. */

interface Kept<P extends ProofPart = ProofPart> {
  code: string
  results: ProofResult<P>[]
}

/** Code is named by its texts, and by what measured it: a later version of the product measures again. */
export function codeName(files: ReadonlyMap<string, string>, drafts: Files = {}, version: string): string {
  const texts = new Map([...files, ...Object.entries(drafts)])
  const hash = createHash('sha256').update(version)
  for (const path of [...texts.keys()].sort()) {
    // What is in data/ is where live records began; nothing is proved on them.
    if (!path.startsWith('data/')) hash.update(`\0${path}\0${texts.get(path)!}`)
  }
  return hash.digest('hex').slice(0, 32)
}

export class Proofs {
  readonly #kept = new Map<ProofPart, Kept | null>()

  /** @param folder is made when something is kept */
  constructor(private readonly folder: string) {}

  known(code: string): KnownProofs {
    const kept = PROOF_PARTS.map((part) => [part, this.#read(part)] as const)
    const results = Object.fromEntries(kept.map(([part, each]) => [part, each?.code === code ? each.results : null]))
    return {
      code,
      stale: kept.filter(([, each]) => each && each.code !== code).map(([part]) => part),
      ...(results as Pick<KnownProofs, ProofPart>),
    }
  }

  /** What was measured on other code goes. */
  keep<P extends ProofPart>(part: P, code: string, fresh: readonly ProofResult<P>[]): void {
    const before = this.#read(part) as Kept<P> | null
    const results = mergeProofs(part, before?.code === code ? before.results : [], fresh)
    this.#kept.set(part, { code, results } as Kept)
    makeFolder(this.folder, 0o700)
    const file = this.#fileOf(part)
    writeFileSync(`${file}.new`, JSON.stringify({ code, results }), { mode: 0o600 })
    renameSync(`${file}.new`, file)
  }

  readonly #fileOf = (part: ProofPart): string => join(this.folder, `${part}.json`)

  /** A file that is not there, is damaged, or was written by another version: nothing is known, and it is measured again. */
  #read(part: ProofPart): Kept | null {
    const known = this.#kept.get(part)
    if (known !== undefined) return known
    const shape = z.object({ code: z.string(), results: z.array(PROOFS[part].result) })
    let kept: Kept | null = null
    try {
      kept = shape.parse(JSON.parse(readFileSync(this.#fileOf(part), 'utf8'))) as Kept
    } catch {
      // See above.
    }
    this.#kept.set(part, kept)
    return kept
  }
}
