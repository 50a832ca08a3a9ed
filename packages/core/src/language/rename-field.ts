import ts from '#typescript'
import type { Project, Table } from '../model/types.js'
import { isCode, serviceOf } from './check.js'
import { DECLARATIONS } from './service.js'

/**
 * Follows the renaming of a table's field through a project's code: as a property, by what TypeScript knows of it, and as
 * text where a field's name is asked for, such as in a watch list.
 * @returns the files that change, with their new text
 */
export function renameFieldInCode(project: Project, table: Table, from: string, to: string): Map<string, string> {
  const paths = [...project.files.keys()].filter(isCode)
  const service = serviceOf(project)
  const edits = new Map<string, { start: number; end: number; text: string }[]>()
  const add = (fileName: string, start: number, end: number, text: string) => {
    const path = fileName.slice(1)
    edits.set(path, [...(edits.get(path) ?? []), { start, end, text }])
  }
  const at = propertyAt(service.getProgram()!.getSourceFile(DECLARATIONS)!, `T_${table.name}`, from)
  if (at === null) return new Map()
  const locations =
    service.findRenameLocations(DECLARATIONS, at, false, false, { providePrefixAndSuffixTextForRename: true }) ?? []
  for (const { fileName, textSpan, prefixText = '', suffixText = '' } of locations)
    if (fileName.startsWith('/plugins/'))
      add(fileName, textSpan.start, textSpan.start + textSpan.length, prefixText + to + suffixText)
  const checker = service.getProgram()!.getTypeChecker()
  for (const path of paths) {
    const source = service.getProgram()!.getSourceFile(`/${path}`)!
    const look = (node: ts.Node): void => {
      if (
        ts.isStringLiteralLike(node) &&
        (node.text === from || node.text === `-${from}`) &&
        namesFieldOf(checker, node, table)
      ) {
        // Within the quotes, behind the - of a falling order.
        const start = node.getStart(source) + 1 + (node.text.length - from.length)
        if (!edits.get(path)?.some((each) => each.start === start)) add(`/${path}`, start, start + from.length, to)
      }
      ts.forEachChild(node, look)
    }
    look(source)
  }
  const changed = new Map<string, string>()
  for (const [path, list] of edits) {
    const text = project.files.get(path)!
    changed.set(
      path,
      list
        .sort((a, b) => b.start - a.start)
        .reduce((done, edit) => done.slice(0, edit.start) + edit.text + done.slice(edit.end), text),
    )
  }
  return changed
}

function propertyAt(source: ts.SourceFile, owner: string, name: string): number | null {
  let at: number | null = null
  const look = (node: ts.Node): void => {
    if (
      ts.isPropertySignature(node) &&
      ts.isInterfaceDeclaration(node.parent) &&
      node.parent.name.text === owner &&
      node.name.getText(source) === name
    )
      at = node.name.getStart(source)
    ts.forEachChild(node, look)
  }
  look(source)
  return at
}

/** Is a field of that table asked for where the text stands? The names that are allowed there tell. */
function namesFieldOf(checker: ts.TypeChecker, node: ts.StringLiteralLike, table: Table): boolean {
  const type = checker.getContextualType(node)
  if (!type) return false
  const members = type.isUnion() ? type.types : [type]
  const names = new Set(members.flatMap((each) => (each.isStringLiteral() ? [each.value.replace(/^-/, '')] : [])))
  names.delete('id')
  return names.size === table.fields.length && table.fields.every((field) => names.has(field.name))
}
