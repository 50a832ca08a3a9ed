import { relative, resolve, sep } from 'node:path'

/**
 * Files in a report are named from the folder that the command runs in, as build servers expect it: a project may lie below the root of
 * a repository.
 * @param folder of the project
 * @returns the path of a file of the project in a report, with `/`
 */
export const reportPathsOf =
  (folder: string): ((file: string) => string) =>
  (file) =>
    relative(process.cwd(), resolve(folder, file)).split(sep).join('/')

/** The same things, with the files that they lie in as they are named in a report. */
export const asReported = <T extends { file: string }>(things: readonly T[], pathOf: (file: string) => string): T[] =>
  things.map((thing) => ({ ...thing, file: pathOf(thing.file) }))
