import type { ProjectChange } from './shapes/project-change.js'
import type { ProjectInfo } from './shapes/project.js'

/** From one revision of a project's description to another: the changes about it, and that put into the one before. */

interface Named {
  readonly name: string
}
interface ListChange<T extends Named> {
  names: string[] | null
  items: T[]
}

const isSame = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b)

function listChange<T extends Named>(before: readonly T[], now: readonly T[]): ListChange<T> {
  const known = new Map(before.map((item) => [item.name, item]))
  const inPlace = before.length === now.length && now.every(({ name }, at) => before[at]!.name === name)
  return {
    names: inPlace ? null : now.map(({ name }) => name),
    items: now.filter((item) => !isSame(known.get(item.name), item)),
  }
}

/** The same list where it has not changed. */
function changedList<T extends Named>(before: readonly T[], { names, items }: ListChange<T>): readonly T[] {
  if (names === null && items.length === 0) return before
  const byName = new Map([...before, ...items].map((item) => [item.name, item]))
  return (names ?? before.map(({ name }) => name)).map((name) => byName.get(name)!)
}

/** @param files paths of those that are others than before */
export function changeOf(before: ProjectInfo, now: ProjectInfo, files: string[]): ProjectChange {
  const { revision, tables, plugins, hooks, fixtures, ...rest } = now
  return {
    since: before.revision,
    revision,
    files,
    tables: listChange(before.tables, tables),
    plugins: listChange(before.plugins, plugins),
    hooks: listChange(before.hooks, hooks),
    fixtures: listChange(before.fixtures, fixtures),
    rest,
  }
}

/** @returns null where the change is one of another revision: then the project has to be asked for */
export function withProjectChange(before: ProjectInfo, change: ProjectChange): ProjectInfo | null {
  if (change.since !== before.revision) return null
  const { revision, rest } = change
  return {
    ...rest,
    revision,
    tables: changedList(before.tables, change.tables) as ProjectInfo['tables'],
    plugins: changedList(before.plugins, change.plugins) as ProjectInfo['plugins'],
    hooks: changedList(before.hooks, change.hooks) as ProjectInfo['hooks'],
    fixtures: changedList(before.fixtures, change.fixtures) as ProjectInfo['fixtures'],
  }
}
