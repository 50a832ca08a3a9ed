import { workerCalls } from '../lib/worker-calls'
import type { FormatMethods } from './format-worker'
import type { LanguageMethods } from './protocol'

/** The workers that know the language: TypeScript with the findings, and the formatter, which is not to wait for either. */

const service = workerCalls<LanguageMethods>(
  () => new Worker(new URL('./worker.ts', import.meta.url), { type: 'module', name: 'language' }),
)
const formatter = workerCalls<FormatMethods>(
  () => new Worker(new URL('./format-worker.ts', import.meta.url), { type: 'module', name: 'format' }),
)

export const language = service.ask
/** Begins the TypeScript service before anything is asked of it. */
export const warmUp = service.warmUp
/** Loads the formatter before anything is kept. */
export const warmUpFormatter = formatter.warmUp
/** @returns the text in the project's style; rejects with the reason where it has syntax errors */
export const formatted = (text: string): Promise<string> => formatter.ask('format', text)
