/**
 * The file of a plugin that a relative import may name, and those that it may be, in the order they are looked for.
 * @param from the importing file, from the project's folder
 * @returns null when it leads out of the plugin
 */
export function importedPaths(from: string, name: string): string[] | null {
  const parts = from.split('/').slice(0, -1)
  for (const part of name.split('/')) {
    if (part === '..') parts.pop()
    else if (part !== '.') parts.push(part)
  }
  const path = parts.join('/')
  if (!path.startsWith(pluginOf(from) + '/')) return null
  return [path, path.replace(/\.js$/, '.ts'), `${path}.ts`, `${path}/index.ts`].filter((each) => each.endsWith('.ts'))
}

/** `plugins/<plugin>` of a file of it. */
export const pluginOf = (file: string): string => file.split('/').slice(0, 2).join('/')
