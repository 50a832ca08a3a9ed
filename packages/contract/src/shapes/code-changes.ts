import { z } from 'zod'
import { anyName, files } from './values.js'

/** Hooks, plugins and their files that are made, get another name or place, or go: with everything that names them. */

/** Of a hook or a plugin: small letters, digits and -, a letter first. */
export const codeName = z
  .string()
  .max(100)
  .regex(/^[a-z][a-z0-9-]*$/, 'a name has small letters, digits and - only, a letter first')

export const codeChange = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('rename-hook'), hook: anyName, name: codeName }),
  z.strictObject({ kind: z.literal('move-hook'), hook: anyName, plugin: anyName }),
  z.strictObject({ kind: z.literal('remove-hook'), hook: anyName }),
  z.strictObject({ kind: z.literal('make-plugin'), plugin: codeName, description: z.string().max(2000).default('') }),
  z.strictObject({ kind: z.literal('rename-plugin'), plugin: anyName, name: codeName }),
  z.strictObject({ kind: z.literal('remove-plugin'), plugin: anyName }),
  z.strictObject({ kind: z.literal('make-file'), plugin: anyName, folder: z.enum(['lib', 'tests']), name: codeName }),
  z.strictObject({ kind: z.literal('remove-file'), file: z.string().max(300) }),
  z.strictObject({ kind: z.literal('remove-fixtures'), set: anyName }),
])
export type CodeChange = z.infer<typeof codeChange>
export type CodeChangeKind = CodeChange['kind']

export const codePlan = z.object({
  /** The revisions of the saved texts that it was planned for; null for files that are new. */
  from: z.record(z.string(), z.string().nullable()),
  /** New texts of files; null for those that go. */
  files: z.record(z.string(), z.string().nullable()),
  /** What is done, in words. */
  steps: z.array(z.string()),
  /** What still names it and is not changed. */
  notices: z.array(z.string()),
})
export type CodePlan = z.infer<typeof codePlan>

export const codeChangeRequest = z.strictObject({ change: codeChange, drafts: files.optional() })
