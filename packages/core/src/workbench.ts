/**
 * What a command or a server needs to run engines over a project's files, and nothing that is slow to load: the compiler, the sandbox and the
 * findings are loaded by the engines.
 */
export { forgetCommits } from './store/commit-record.js'
export * from './errors.js'
export { openApplication } from './engine/hosts/application.js'
export { findingsOf } from './engine/hosts/findings-of.js'
export { measureCoverage } from './engine/hosts/measure-coverage.js'
export { proveBulk, type BulkOptions } from './engine/hosts/prove-bulk.js'
export { proveMutants, type MutantOptions } from './engine/hosts/prove-mutants.js'
export { runGate } from './engine/hosts/run-gate.js'
export { runTests, type TestRunOptions } from './engine/hosts/run-tests.js'
export type { TryEngines, TryOptions } from './engine/hosts/try-engines.js'
export { openWorkbench } from './engine/hosts/workbench.js'
export { lockFolder } from './store/folder-lock.js'
export { checkInside, readFolder } from './model/folder.js'
export { makeFolder } from './model/make-folder.js'
export { hintFor } from './model/names.js'
export { watchFolder } from './model/watch-folder.js'
export type { TestResult } from './prove/run-tests.js'
export type { SaveOutcome } from './save/save.js'
