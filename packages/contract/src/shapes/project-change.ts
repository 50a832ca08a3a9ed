import { z } from 'zod'
import { hookInfo, projectInfo } from './project.js'
import { table } from './tables.js'

/** The changes about a project since a revision of it: a large one is not sent whole for each file that is kept. */

const listChange = <S extends z.ZodType>(item: S) =>
  z.object({
    /** Of all that there are now, in their order; null: those that there were. */
    names: z.array(z.string()).nullable(),
    /** Those that are new, or others than before. */
    items: z.array(item),
  })

const { plugins, fixtures } = projectInfo.shape

export const projectChange = z.object({
  /** The revision that all else is reported in comparison with. */
  since: z.string(),
  revision: z.string(),
  /** Paths of files that are new, gone or of another text. */
  files: z.array(z.string()),
  tables: listChange(table),
  plugins: listChange(plugins.element),
  hooks: listChange(hookInfo),
  fixtures: listChange(fixtures.element),
  /** What is no list by name; always told. */
  rest: projectInfo.omit({ revision: true, tables: true, plugins: true, hooks: true, fixtures: true }),
})
export type ProjectChange = z.infer<typeof projectChange>
