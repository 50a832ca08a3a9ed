import { hookOfPath } from '@patient-hook/contract/paths'
import {
  changeDefinition,
  createService,
  definitionAt,
  diagnose,
  exportedFunctions,
  newHookCode,
  readDefinition,
  renameAt,
  signatureAt,
} from '@patient-hook/core/language'
import { hookCode, hookUses, lookAt, treeOf, type HookCode } from '@patient-hook/core/findings'
import { answerCalls } from '../lib/worker-calls'
import { replaceCode, searchCode } from './search-code'
import type { LanguageMethods, LanguageModel, Outline } from './protocol'

/** The TypeScript service and the findings, off the page's thread. */

const raw = import.meta.glob<string>('../../../../node_modules/typescript/lib/lib.{es*,decorators*}.d.ts', {
  query: '?raw',
  import: 'default',
  eager: true,
})
const libs = new Map(Object.entries(raw).map(([path, text]) => [path.replace(/^.*\//, ''), text]))

/** Texts as they are kept. */
let kept: Record<string, string> = {}
/** The same with what is drafted. */
let files: Record<string, string> = {}
let model: LanguageModel = { declarations: '', tables: [] }
let declarationsVersion = 0
const versions = new Map<string, number>()
const service = createService({
  text: (path) => files[path],
  version: (path) => String(versions.get(path) ?? 0),
  paths: () => Object.keys(files),
  declarations: () => model.declarations,
  declarationsVersion: () => String(declarationsVersion),
  lib: (name) => libs.get(name),
})

/** Hooks as the rules see them, kept as long as their text and the tables stay. */
const known = new Map<string, { text: string; code: HookCode | null }>()

// TypeScript's own declarations are read while the page still loads.
service.getProgram()

function codes(): HookCode[] {
  const tables = new Map(model.tables.map((table) => [table.name, table]))
  const hooks: HookCode[] = []
  for (const [file, text] of Object.entries(files)) {
    const name = hookOfPath(file)?.hook
    if (name === undefined) continue
    let kept = known.get(file)
    if (kept?.text !== text) known.set(file, (kept = { text, code: hookCode(name, file, text, { tables }) }))
    if (kept.code) hooks.push(kept.code)
  }
  return hooks
}

function outline(path: string): Outline | null {
  const text = files[path] ?? ''
  const definition = readDefinition(path, text)
  if (!definition) return null
  const { uses } = hookUses(treeOf(path, text))
  const own = (kind: 'read' | 'write') => [
    ...new Set(uses.filter((use) => use.kind === kind && use.of !== 'other').map((use) => use.field)),
  ]
  return { definition, reads: own('read'), writes: own('write') }
}

const methods: LanguageMethods = {
  follow(change) {
    const texts = Object.entries({ ...(change.partial ? kept : {}), ...change.files })
    kept = Object.fromEntries(texts.filter((each): each is [string, string] => each[1] !== null))
    const next = { ...kept, ...change.drafts }
    for (const path of new Set([...Object.keys(files), ...Object.keys(next)]))
      if (files[path] !== next[path]) versions.set(path, (versions.get(path) ?? 0) + 1)
    files = next
    if (!change.model) return
    if (change.model.declarations !== model.declarations) declarationsVersion++
    model = change.model
    known.clear()
  },
  write(path, text) {
    if (files[path] === text) return
    files[path] = text
    versions.set(path, (versions.get(path) ?? 0) + 1)
  },
  async look(path) {
    // A user who types on waits for completions: what has come in meanwhile goes first.
    await new Promise((done) => setTimeout(done))
    const all = codes()
    const hook = all.find((each) => each.file === path)
    const tables = new Map(model.tables.map((table) => [table.name, table]))
    return {
      diagnostics: diagnose(service, path),
      findings: hook ? lookAt(hook, all, { tables, files: { get: (file: string) => files[file] } }) : [],
      outline: outline(path),
    }
  },
  complete(path, text, offset) {
    methods.write(path, text)
    const completions = service.getCompletionsAtPosition(`/${path}`, offset, { includeCompletionsForModuleExports: false })
    const labels = new Map(
      model.tables.flatMap((table) =>
        table.fields.map((field) => [field.name, field.help ? `${field.label}: ${field.help}` : field.label]),
      ),
    )
    return (completions?.entries ?? [])
      .filter((entry) => entry.kind !== 'warning' && !(entry.sortText ?? '').startsWith('15'))
      .slice(0, 400)
      .map((entry) => ({ name: entry.name, kind: entry.kind, detail: labels.get(entry.name) ?? '' }))
  },
  outline,
  paths: (folder) =>
    Object.keys(files)
      .filter((path) => path.startsWith(folder) && path.endsWith('.ts'))
      .sort(),
  search: (query) => searchCode(files, query),
  replace: (query, replacement) => replaceCode(files, query, replacement),
  functions: (paths) => paths.flatMap((path) => exportedFunctions(service, path)),
  newHook: newHookCode,
  changeDefinition: (path, part, value) => changeDefinition(path, files[path] ?? '', part, value),
  goTo: (path, offset) => definitionAt(service, path, offset),
  rename: (path, offset, name) => renameAt(service, path, offset, name),
  signature: (path, offset) => signatureAt(service, path, offset),
  describe(path, offset) {
    const info = service.getQuickInfoAtPosition(`/${path}`, offset)
    if (!info) return null
    const join = (parts: readonly { text: string }[] | undefined) => (parts ?? []).map((part) => part.text).join('')
    return {
      start: info.textSpan.start,
      end: info.textSpan.start + info.textSpan.length,
      text: join(info.displayParts),
      doc: join(info.documentation),
    }
  },
}

answerCalls(methods)
