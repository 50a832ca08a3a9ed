/**
 * TypeScript’s compiler as a separate program (version 7), which says in a fraction of the time which files are well: it needs no warming up.
 * What is wrong with the others is reported by the service that the editor has, too.
 */

/** What the types of some files depend on. */
export interface TypeGround {
  /** Code by path from the project’s folder. */
  files: ReadonlyMap<string, string>
  declarations: string
}

/** Those of the files that something is to be said of; null where the compiler cannot be asked, or gave no answer. */
export type Faulty = ReadonlySet<string> | null

/** Starts the check. The answer is awaited later. */
export type Compiler = (ground: TypeGround) => () => Faulty

const none: Compiler = () => () => null
let compiler = none

/** From now on it is asked. For threads that have another one beside them, which runs it. */
export function askCompiler(given: Compiler): void {
  compiler = given
}

export const beginCompiler: Compiler = (ground) => (ground.files.size === 0 ? none : compiler)(ground)
