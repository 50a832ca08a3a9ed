import ts from '#typescript'
import { DECLARATIONS } from './service.js'
import type { TextEdit } from './definition.js'

/** Moving about in a project's code: where a name is defined, what it may be renamed to, what a call takes. */

export type Target =
  | { kind: 'code'; file: string; line: number; start: number; end: number }
  /** A table of the model, or one of its fields. */
  | { kind: 'model'; table: string; field: string | null }

export interface Signature {
  label: string
  /** The parameter that is being typed, as a part of the label. */
  active: { start: number; end: number } | null
  doc: string
}

const root = (path: string) => `/${path}`
const isProject = (name: string) => name.startsWith('/plugins/')
const textOf = (parts: readonly ts.SymbolDisplayPart[] | undefined) => (parts ?? []).map((part) => part.text).join('')

/** @returns null where there is no place in the project to go to */
export function definitionAt(service: ts.LanguageService, path: string, offset: number): Target | null {
  const targets = service.getDefinitionAtPosition(root(path), offset) ?? []
  const program = service.getProgram()
  for (const { fileName, textSpan } of targets) {
    const source = program?.getSourceFile(fileName)
    if (!source) continue
    const { start, length } = textSpan
    if (isProject(fileName)) {
      const { line } = source.getLineAndCharacterOfPosition(start)
      return { kind: 'code', file: fileName.slice(1), line: line + 1, start, end: start + length }
    }
    if (fileName === DECLARATIONS) {
      const target = modelAt(source, start)
      if (target) return target
    }
  }
  return null
}

/** The declarations name a table's type T_<table>, with a property for each field, and list the tables in Tables. */
function modelAt(source: ts.SourceFile, start: number): Target | null {
  let target: Target | null = null
  const look = (node: ts.Node): void => {
    if (start < node.pos || start >= node.end) return
    if (ts.isPropertySignature(node) && ts.isInterfaceDeclaration(node.parent)) {
      const [owner, name] = [node.parent.name.text, node.name.getText(source)]
      if (owner.startsWith('T_')) target = { kind: 'model', table: owner.slice(2), field: name }
      else if (owner === 'Tables') target = { kind: 'model', table: name, field: null }
    } else if (ts.isInterfaceDeclaration(node) && node.name.text.startsWith('T_') && node.name.getStart(source) === start)
      target = { kind: 'model', table: node.name.text.slice(2), field: null }
    ts.forEachChild(node, look)
  }
  look(source)
  return target
}

export type Renaming = { edits: Record<string, TextEdit[]>; count: number } | { refused: string }

/** What is renamed with a name: everything in the code of its plugin that means the same. */
export function renameAt(service: ts.LanguageService, path: string, offset: number, newName: string): Renaming {
  if (!/^[A-Za-z_$][\w$]*$/.test(newName)) return { refused: `'${newName}' cannot be a name: letters, digits, _ and $ only` }
  const info = service.getRenameInfo(root(path), offset, {})
  if (!info.canRename) return { refused: 'there is no name of this project here' }
  const locations = (aliases: boolean) =>
    service.findRenameLocations(root(path), offset, false, false, { providePrefixAndSuffixTextForRename: aliases }) ?? []
  // With aliases, an object's `{ mass }` becomes `{ mass: grams }`; but an import must not become `mass as grams`.
  const aliased = locations(true)
  const isAlias = aliased.some(({ prefixText = '', suffixText = '' }) => /\bas\b/.test(prefixText + suffixText))
  const places = isAlias ? locations(false) : aliased
  const outside = places.find((each) => !isProject(each.fileName))
  if (outside) {
    const target = definitionAt(service, path, offset)
    return {
      refused:
        target?.kind === 'model'
          ? `${info.displayName} is a ${target.field ? 'field' : 'table'} of the model: rename it in the Model view`
          : `${info.displayName} is not the project's own`,
    }
  }
  const edits: Record<string, TextEdit[]> = {}
  for (const { fileName, textSpan, prefixText = '', suffixText = '' } of places)
    (edits[fileName.slice(1)] ??= []).push({
      start: textSpan.start,
      end: textSpan.start + textSpan.length,
      text: prefixText + newName + suffixText,
    })
  return places.length === 0 ? { refused: 'there is no name of this project here' } : { edits, count: places.length }
}

/** The call around a place, and its parameter that is being typed. */
export function signatureAt(service: ts.LanguageService, path: string, offset: number): Signature | null {
  const help = service.getSignatureHelpItems(root(path), offset, undefined)
  const item = help?.items[help.selectedItemIndex]
  if (!help || !item) return null
  let label = textOf(item.prefixDisplayParts)
  let active: Signature['active'] = null
  item.parameters.forEach((parameter, index) => {
    if (index > 0) label += textOf(item.separatorDisplayParts)
    const start = label.length
    label += textOf(parameter.displayParts)
    if (index === help.argumentIndex) active = { start, end: label.length }
  })
  label += textOf(item.suffixDisplayParts)
  const current = item.parameters[help.argumentIndex]
  return { label, active, doc: textOf(current?.documentation) || textOf(item.documentation) }
}
