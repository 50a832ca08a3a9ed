import { z } from 'zod'
import { belongsToProject } from '../paths.js'
import { route } from '../route.js'
import { linkState, projectEvent } from '../shapes/link.js'
import { projectChange } from '../shapes/project-change.js'
import { projectInfo } from '../shapes/project.js'
import { anyName, files, LONGEST_FILE } from '../shapes/values.js'

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
    summary: 'The code of the project: all of it, or the changes since a revision.',
    query: z.object({ since: z.string().max(100).optional() }),
    answer: z.object({
      revision: z.string(),
      /** Not all of it, but the changes since the revision that was asked for; null is a file that went. */
      partial: z.boolean(),
      files: z.record(z.string(), z.string().nullable()),
    }),
  }),
  file: route({
    method: 'GET',
    path: '/file',
    summary: 'One file of the project.',
    query: z.object({ path: projectPath }),
    answer: z.object({ path: z.string(), text: z.string() }),
  }),
  pluginFiles: route({
    method: 'GET',
    path: '/plugins/:plugin/files',
    summary: 'The working copy of a plugin: every file of it.',
    params: z.object({ plugin: anyName }),
    answer: z.object({ files }),
  }),
  projectEvents: route({
    method: 'GET',
    path: '/project/events',
    summary: 'Project changes from all clients as server-sent events, starting with the current state.',
    answer: projectEvent,
    events: true,
  }),
  resolveConflict: route({
    method: 'POST',
    path: '/link/resolve',
    summary: 'Says which text is meant where folder and working copy have both changed.',
    body: z.strictObject({ file: projectPath, take: z.enum(['folder', 'application']) }),
    answer: linkState,
  }),
  putFiles: route({
    method: 'PUT',
    path: '/files',
    summary:
      'Keeps files of the working copy. Nothing is kept when one is wrong. null removes a file. What runs on saves are releases.',
    body: z.strictObject({
      files: z.record(projectPath, z.string().max(LONGEST_FILE).nullable()),
      /** By file: the revision of the text that the edit began with, null for a new file. Another one is answered with 409. */
      from: z.record(projectPath, z.string().max(100).nullable()).optional(),
    }),
    answer: projectChange,
  }),
}
