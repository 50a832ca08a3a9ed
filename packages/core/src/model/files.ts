/** Texts of a project's files, by path. */

/** @param changed new texts; null for a file that goes */
export function withChanges(
  files: ReadonlyMap<string, string>,
  changed: ReadonlyMap<string, string | null> | Readonly<Record<string, string | null>>,
): Map<string, string> {
  const all = new Map(files)
  for (const [path, text] of changed instanceof Map ? changed : Object.entries(changed as Record<string, string | null>))
    if (text === null) all.delete(path)
    else all.set(path, text)
  return all
}
