import { pluginOfPath } from '@patient-hook/contract/paths'
import type { Files, FunctionCall, FunctionResult, KeptTest } from '@patient-hook/contract'
import { callFunction as call, toldOf } from '../../rehearse/function-call.js'
import { functionTestCode, withoutFunction } from '../../rehearse/kept/function-test-code.js'
import type { OpenProject } from '../open-project.js'
import { freshTest, outcomeOf } from './keeping.js'

/** Functions of a plugin's lib, called by themselves, and kept as tests. */

/** @throws HookError rehearse/no-function, or where the module cannot be loaded */
export function callFunction(open: OpenProject, asked: FunctionCall, drafts: Files | undefined): FunctionResult {
  const { read, result } = call(open.runtimes.with(drafts, 'probed'), asked, ({ value, error }) =>
    error ? { result: null, error: error.report } : { result: toldOf(value), error: null },
  )
  return { ...read, ...result }
}

/** @throws HookError rehearse/cannot-keep where what came cannot be written down, or the name is taken */
export function keepFunctionTest(open: OpenProject, asked: FunctionCall, test: string, drafts: Files = {}): KeptTest {
  const runtime = open.runtimes.with(drafts)
  const plugin = pluginOfPath(asked.file) ?? ''
  const { file } = freshTest(runtime.project, plugin, test)
  const { read } = call({ ...runtime, probe: null }, asked, (called) => ({
    code: functionTestCode(test, asked, called),
    throws: called.error !== null,
  }))
  const files = { [file]: read.code }
  const all = { ...drafts, ...files }
  const failure = outcomeOf(open.runtimes.with(all), file)
  const text = runtime.project.files.get(asked.file)!
  const broken = { ...all, [asked.file]: withoutFunction(asked.file, text, asked.name, read.throws) }
  const notice = { without: asked.name, fails: failure === null && outcomeOf(open.runtimes.with(broken), file) !== null }
  return { files, file, failure, notices: [notice] }
}
