import { randomUUID } from 'node:crypto'
import type { HookInfo, ProjectInfo } from '@patient-hook/contract'
import { fieldsOf } from '../findings/hook-fields.js'
import type { Project } from '../model/types.js'
import type { Hook } from '../save/hook.js'
import type { Runtime } from './runtime.js'

/** The project as the interface sees it. */

export function projectInfo({ project, program }: Runtime): ProjectInfo {
  const order = [...project.tables.keys()].flatMap((table) =>
    (['before-save', 'after-save', 'before-commit'] as const).flatMap((moment) => program.of(table, moment)),
  )
  return {
    revision: randomUUID(),
    name: project.name,
    title: project.title,
    users: [...project.users],
    tables: [...project.tables.values()],
    plugins: [...project.plugins.values()].map(({ name, version, description, tests, lib }) => ({
      name,
      version,
      description,
      tests: [...tests],
      lib: [...lib],
    })),
    hooks: order.map((hook) => hookInfo(hook, project)),
    fixtures: [...project.fixtures].map(([name, tables]) => ({
      name,
      tables: Object.fromEntries([...tables].map(([table, rows]) => [table, rows.length])),
    })),
    sequences: [...project.sequences.keys()],
    batchSize: project.batchSize,
  }
}

const known = new WeakMap<object, HookInfo>()

/** The same object as long as the hook is the same. */
function hookInfo(hook: Hook, { files }: Project): HookInfo {
  const before = known.get(hook.origin)
  if (before) return before
  const { reads, writes, uses } = fieldsOf(hook.file, files.get(hook.file) ?? '', hook.table)
  const info: HookInfo = {
    name: hook.name,
    plugin: hook.plugin,
    file: hook.file,
    table: hook.table,
    moment: hook.moment,
    on: [...hook.on],
    watch: [...(hook.watch ?? [])],
    after: [...hook.after],
    parts: [...hook.parts.keys()].filter((part) => part !== ''),
    reads,
    writes,
    uses,
    state: hook.state,
  }
  known.set(hook.origin, info)
  return info
}
