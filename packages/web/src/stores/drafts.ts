import { useLocalStorage } from '@vueuse/core'
import { mergeDiff3 } from 'node-diff3'
import { textRevision } from '@patient-hook/contract/text-revision'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { ApiError, api } from '../lib/api'
import { useProject } from './project'

/** A three-way merge by lines; where both changed the same lines, both stand there between marks. */
function merged(mine: string, base: string, theirs: string): string {
  const lines = (text: string) => text.split('\n')
  const { result } = mergeDiff3(lines(mine), lines(base), lines(theirs), { label: { a: 'mine', o: 'before', b: 'theirs' } })
  return result.join('\n')
}

/** Texts of files as edited. What is not saved yet is kept in the browser, so a reload loses nothing. */
export const useDrafts = defineStore('drafts', () => {
  const drafts = useLocalStorage<Record<string, string>>('patient-hook:drafts', {})
  /** Files that a renaming changed: one of them saved without the others would not run. */
  const renamed = useLocalStorage<string[]>('patient-hook:renamed', [])
  /** By file with a draft: the saved text that the edit began with; null for a new file. */
  const bases = useLocalStorage<Record<string, string | null>>('patient-hook:bases', {})
  const saved = ref<Record<string, string>>({})
  /** A file that somebody else saved meanwhile. */
  const conflict = ref<{ path: string } | null>(null)
  /** Drafts are on their way: what they come to is known soon. */
  const keeping = ref(false)
  /** Files that were removed or moved: what an editor of them still says as it is left is nobody's draft. */
  const gone = new Set<string>()

  /** Loads a file's saved text, once. */
  async function open(path: string): Promise<void> {
    gone.delete(path)
    if (saved.value[path] !== undefined) return
    try {
      saved.value[path] = (await api.file(path)).text
    } catch (error) {
      // A new file that was never saved is in the drafts only.
      if (!(error instanceof ApiError) || drafts.value[path] === undefined) throw error
      saved.value[path] = ''
    }
  }

  const opened = (): string[] => Object.keys(saved.value)
  const textOf = (path: string): string => drafts.value[path] ?? saved.value[path] ?? ''
  const hasEdits = (path: string): boolean => drafts.value[path] !== undefined

  function write(path: string, text: string): void {
    if (gone.has(path)) return
    if (text === saved.value[path]) return discard(path)
    if (!hasEdits(path)) bases.value = { ...bases.value, [path]: saved.value[path] ?? null }
    drafts.value = { ...drafts.value, [path]: text }
  }

  /** A file that the project does not have yet. */
  function create(path: string, text: string): void {
    gone.delete(path)
    saved.value = { ...saved.value, [path]: '' }
    bases.value = { ...bases.value, [path]: null }
    drafts.value = { ...drafts.value, [path]: text }
  }

  function discard(path: string): void {
    const { [path]: _, ...others } = drafts.value
    drafts.value = others
    const { [path]: _base, ...bare } = bases.value
    bases.value = bare
    if (renamed.value.includes(path)) renamed.value = renamed.value.filter((each) => each !== path)
  }

  /** These go together from now on: they are saved and discarded at once. */
  function tie(paths: readonly string[]): void {
    renamed.value = [...new Set([...renamed.value, ...paths])]
  }

  /**
   * Keeps the drafts as the working copy, which is released in the Release view.
   * @param prepare may write to each of them before @throws ApiError, and keeps the drafts
   */
  async function save(paths: readonly string[], prepare?: (path: string) => Promise<void>): Promise<void> {
    const edited = paths.filter(hasEdits)
    if (edited.length === 0) return
    keeping.value = true
    try {
      if (prepare) await Promise.all(edited.map(prepare))
      const files = Object.fromEntries(edited.filter(hasEdits).map((path) => [path, textOf(path)]))
      if (Object.keys(files).length === 0) return
      await put(files)
      saved.value = { ...saved.value, ...files }
      // What was typed on meanwhile is a draft beside it.
      for (const [path, text] of Object.entries(files))
        if (textOf(path) === text) discard(path)
        else bases.value = { ...bases.value, [path]: text }
    } finally {
      keeping.value = false
    }
  }

  /** Saves texts over those that their edits began with. @throws ApiError where somebody else saved one meanwhile */
  async function put(files: Record<string, string>): Promise<void> {
    const revisions = Object.keys(files).flatMap((path) => {
      const base = bases.value[path]
      return base === undefined ? [] : [[path, base === null ? null : textRevision(base)] as const]
    })
    try {
      await useProject().take(await api.putFiles(files, Object.fromEntries(revisions)))
    } catch (error) {
      if (error instanceof ApiError && error.report.code === 'project/changed') conflict.value = { path: error.report.file! }
      throw error
    }
  }

  /** Ends a conflict: the draft goes, or is an edit of their text from now on. Saving it is another step. */
  async function resolve(way: 'mine' | 'theirs' | 'merge'): Promise<void> {
    if (!conflict.value) return
    const { path } = conflict.value
    const theirs = (await api.file(path)).text
    const [mine, base] = [textOf(path), bases.value[path] ?? '']
    saved.value = { ...saved.value, [path]: theirs }
    if (way === 'theirs') discard(path)
    else {
      bases.value = { ...bases.value, [path]: theirs }
      write(path, way === 'mine' ? mine : merged(mine, base, theirs))
    }
    conflict.value = null
  }

  /**
   * Saves files as they are given, null for one that goes; drafts of them are in these texts already.
   * @param planned the revisions of the saved texts that they were made for
   * @throws ApiError, and keeps the drafts
   */
  async function replace(
    files: Readonly<Record<string, string | null>>,
    planned: Readonly<Record<string, string | null>>,
  ): Promise<void> {
    // What is in a draft was made for the text that the draft began with.
    const from = Object.keys(files).map((path) => {
      const base = bases.value[path]
      return [path, base === undefined ? (planned[path] ?? null) : base === null ? null : textRevision(base)] as const
    })
    await useProject().take(await api.putFiles(files, Object.fromEntries(from)))
    for (const [path, text] of Object.entries(files)) {
      discard(path)
      if (text === null) gone.add(path)
      else gone.delete(path)
      const { [path]: _, ...others } = saved.value
      saved.value = text === null ? others : { ...others, [path]: text }
    }
  }

  /** Empty where the file is gone; as it was where nobody answers. */
  async function keptText(path: string): Promise<string> {
    try {
      return (await api.file(path)).text
    } catch (error) {
      const isGone = error instanceof ApiError && error.report.code === 'project/missing-file'
      return isGone ? '' : (saved.value[path] ?? '')
    }
  }

  /** Files were changed elsewhere: their texts are read again, and drafts of them stay. */
  async function refresh(paths: readonly string[]): Promise<void> {
    const opened = paths.filter((path) => saved.value[path] !== undefined)
    const texts = await Promise.all(opened.map(async (path) => [path, await keptText(path)] as const))
    saved.value = { ...saved.value, ...Object.fromEntries(texts) }
    for (const [path, text] of texts) if (drafts.value[path] === text) discard(path)
  }

  const changed = computed(() => Object.keys(drafts.value))
  return {
    drafts,
    changed,
    renamed,
    keeping,
    conflict,
    resolve,
    tie,
    open,
    opened,
    create,
    textOf,
    hasEdits,
    write,
    discard,
    save,
    replace,
    refresh,
  }
})
