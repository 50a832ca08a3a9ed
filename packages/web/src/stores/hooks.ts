import { hookOfPath, type HookInfo, type Moment } from '@patient-hook/contract'
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import { language } from '../language/client'
import type { Outline } from '../language/protocol'
import { useDrafts } from './drafts'
import { useProject } from './project'

/** The hooks as edited: those of the saved project, with what unsaved code says of them, and new ones. */

const MOMENTS: readonly string[] = ['before-save', 'after-save', 'before-commit']

export const useHooks = defineStore('hooks', () => {
  const project = useProject()
  const drafts = useDrafts()
  const outlines = ref<Record<string, Outline>>({})
  /** Files that the language worker has looked at, whether or not it found a definition. */
  const read = ref<ReadonlySet<string>>(new Set())

  /** Takes what the language worker read out of a hook's code. Code that is half typed keeps what was known before. */
  function note(file: string, outline: Outline | null): void {
    if (!read.value.has(file)) read.value = new Set([...read.value, file])
    if (outline && JSON.stringify(outlines.value[file]) !== JSON.stringify(outline))
      outlines.value = { ...outlines.value, [file]: outline }
  }

  /** New hooks of an earlier visit exist only as drafts, so their definition is read from their code. */
  watch(
    () => [project.info, drafts.changed] as const,
    async () => {
      for (const file of drafts.changed) {
        if (!hookOfPath(file) || outlines.value[file]) continue
        await language('write', file, drafts.textOf(file))
        note(file, await language('outline', file))
      }
    },
    { immediate: true },
  )

  function overlaid(hook: HookInfo): HookInfo {
    const outline = drafts.hasEdits(hook.file) ? outlines.value[hook.file] : undefined
    if (!outline) return hook
    const { table, moment, on, watch, after, parts } = outline.definition
    return {
      ...hook,
      table: project.table(table) ? table : hook.table,
      moment: MOMENTS.includes(moment) ? (moment as Moment) : hook.moment,
      on: on as HookInfo['on'],
      watch,
      after,
      parts,
      reads: outline.reads,
      writes: outline.writes,
    }
  }

  /** A hook that is not saved yet, from its draft. */
  function fresh(file: string): HookInfo | null {
    const { plugin, hook: name } = hookOfPath(file) ?? { plugin: null, hook: null }
    const outline = outlines.value[file]
    if (!plugin || !name || !outline) return null
    const { table, moment, on, watch, after, parts } = outline.definition
    if (!project.table(table)) return null
    return {
      name,
      plugin,
      file,
      table,
      moment: MOMENTS.includes(moment) ? (moment as Moment) : 'before-save',
      on: on as HookInfo['on'],
      watch,
      after,
      parts,
      reads: outline.reads,
      writes: outline.writes,
      uses: [],
      state: { state: 'live' },
    }
  }

  const all = computed<readonly HookInfo[]>(() => {
    const saved = new Set(project.hooks.map((hook) => hook.file))
    const drafted = drafts.changed
      .filter((file) => !saved.has(file))
      .map(fresh)
      .filter((hook) => hook !== null)
    const rank = (hook: HookInfo) => MOMENTS.indexOf(hook.moment)
    // The saved order is the save path's; a stable sort keeps it within a moment.
    return [...project.hooks.map(overlaid), ...drafted].sort((a, b) => rank(a) - rank(b))
  })
  const byName = computed(() => {
    const hooks = new Map<string, HookInfo>()
    for (const each of all.value) if (!hooks.has(each.name)) hooks.set(each.name, each)
    return hooks
  })
  const hook = (name: string) => byName.value.get(name)
  const isNew = (name: string) => project.hook(name) === undefined
  /** Has the language worker looked at the file? */
  const isRead = (file: string): boolean => read.value.has(file)
  /** A hook that is in the drafts, and whose code has not been read yet. */
  const isComing = (name: string): boolean =>
    !hook(name) && drafts.changed.some((file) => hookOfPath(file)?.hook === name && !isRead(file))
  const outlineOf = (file: string): Outline | null => outlines.value[file] ?? null
  return { all, hook, note, isNew, isRead, isComing, outlineOf }
})
