import { z } from 'zod'
import { belongsToProject } from '../paths.js'
import { route } from '../route.js'
import { projectInfo } from '../shapes/project.js'
import { LONGEST_FILE } from '../shapes/values.js'

/** The project and its files: tables, hooks, tests. */

export const projectPath = z
  .string()
  .max(300)
  .refine(belongsToProject, 'expected the path of a project file, such as plugins/name/hooks/hook.ts')

export const projectRoutes = {
  project: route({ method: 'GET', path: '/project', summary: 'The project: tables, hooks, fixture sets.', answer: projectInfo }),
  declarations: route({
    method: 'GET',
    path: '/declarations',
    summary: 'The TypeScript declarations of the tables.',
    answer: z.object({ text: z.string() }),
  }),
  code: route({
    method: 'GET',
    path: '/code',
    summary: 'All code of the project.',
    answer: z.object({ files: z.record(z.string(), z.string()) }),
  }),
  file: route({
    method: 'GET',
    path: '/file',
    summary: 'One file of the project.',
    query: z.object({ path: projectPath }),
    answer: z.object({ path: z.string(), text: z.string() }),
  }),
  putFiles: route({
    method: 'PUT',
    path: '/files',
    summary: 'Keeps files; from the next save on they are what runs. Nothing is kept when one is wrong. null removes a file.',
    body: z.strictObject({ files: z.record(projectPath, z.string().max(LONGEST_FILE).nullable()) }),
    answer: projectInfo,
  }),
}
