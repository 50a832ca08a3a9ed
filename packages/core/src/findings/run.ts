import type ts from '#typescript'
import { definitionOf, hookUses, initializer, stringList } from './uses.js'
import type { Project } from '../model/types.js'
import { RULES } from './rules/index.js'
import { stringOf } from './syntax.js'
import type { Finding, HookCode, Rule } from './types.js'
import { treeOf } from '../syntax-tree.js'

/** Runs the rules over the hooks of a project. */

export function hookCode(name: string, file: string, text: string, project: Pick<Project, 'tables'>): HookCode | null {
  const source = treeOf(file, text)
  const definition = definitionOf(source)
  const table = definition && project.tables.get(stringOf(initializer(definition, 'table')) ?? '')
  if (!definition || !table) return null
  const on = stringList(initializer(definition, 'on')).map((each) => each.text)
  return {
    name,
    file,
    text,
    source,
    definition,
    table,
    moment: stringOf(initializer(definition, 'moment')) ?? '',
    on: on.length > 0 ? on : ['create', 'update'],
    watch: stringList(initializer(definition, 'watch')),
    after: stringList(initializer(definition, 'after')).map((each) => each.text),
    ripples: stringOf(initializer(definition, 'ripples')) ?? 'all',
    ...hookNames(source),
  }
}

function hookNames(source: ts.SourceFile): Pick<HookCode, 'uses' | 'names'> {
  const { uses, names } = hookUses(source)
  return { uses, names }
}

/** @param rules default: all of them */
export function findIn(project: Project, rules: readonly Rule[] = RULES): Finding[] {
  const all: HookCode[] = []
  for (const plugin of project.plugins.values())
    for (const { name, file } of plugin.hooks) {
      const code = hookCode(name, file, project.files.get(file) ?? '', project)
      if (code) all.push(code)
    }
  return all.flatMap((hook) => lookAt(hook, all, project, rules))
}

export function lookAt(
  hook: HookCode,
  all: readonly HookCode[],
  project: Pick<Project, 'tables'> & { files?: { get(file: string): string | undefined } },
  rules: readonly Rule[] = RULES,
): Finding[] {
  const findings: Finding[] = []
  for (const rule of rules)
    rule.look({
      hook,
      all,
      tables: project.tables,
      read: (file) => project.files?.get(file),
      say: (at, message, fix = null) => {
        const start = 'getStart' in at ? at.getStart(hook.source) : at.start
        const end = 'getEnd' in at ? at.getEnd() : at.end
        const place = hook.source.getLineAndCharacterOfPosition(start)
        const known = findings.some((each) => each.rule === rule.meta.name && each.start === start)
        if (!known)
          findings.push({
            rule: rule.meta.name,
            severity: rule.meta.severity,
            message,
            file: hook.file,
            hook: hook.name,
            line: place.line + 1,
            column: place.character + 1,
            start,
            end,
            fix,
          })
      },
    })
  return findings.sort((a, b) => a.start - b.start)
}

/** The text after a fix. */
export function applyMend(text: string, edits: readonly { start: number; end: number; text: string }[]): string {
  return [...edits]
    .sort((a, b) => b.start - a.start)
    .reduce((done, edit) => done.slice(0, edit.start) + edit.text + done.slice(edit.end), text)
}
