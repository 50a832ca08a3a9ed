import { autocompletion, type CompletionContext, type CompletionResult } from '@codemirror/autocomplete'
import type { Extension } from '@codemirror/state'
import { hoverTooltip, type EditorView } from '@codemirror/view'
import { language } from './client'

/** Completion and hover in the editor, from the language worker. A field is found by its label too. */

const plain = (text: string) => text.toLowerCase().replace(/[^a-z0-9]+/g, '')
const TYPES: Record<string, string> = {
  property: 'property',
  method: 'method',
  function: 'function',
  const: 'constant',
  let: 'variable',
  var: 'variable',
  parameter: 'variable',
  keyword: 'keyword',
  string: 'text',
  interface: 'interface',
  module: 'namespace',
  alias: 'variable',
  class: 'class',
}

async function complete(path: string, context: CompletionContext): Promise<CompletionResult | null> {
  const word = context.matchBefore(/[\w$]*$/)
  const before = context.state.sliceDoc(Math.max(0, context.pos - 1), context.pos)
  if (!context.explicit && (!word || word.from === word.to) && !/[.'"]/.test(before)) return null
  const completions = await language('complete', path, context.state.doc.toString(), context.pos)
  const from = word ? word.from : context.pos
  const typed = plain(context.state.sliceDoc(from, context.pos))
  const options = completions
    .filter((each) => typed === '' || plain(each.name).includes(typed) || plain(each.detail).includes(typed))
    .map((each) => ({
      label: each.name,
      type: TYPES[each.kind] ?? 'text',
      detail: each.detail,
      boost: each.detail ? 20 : plain(each.name).startsWith(typed) ? 10 : 0,
    }))
  // Not null when nothing fits: the editor asks again after null only when the next letter comes, though one may have come
  // while this answer was on its way.
  return { from, options, filter: false }
}

/** @param path the file that the editor shows now */
export function languageSupport(path: () => string): Extension {
  return [
    autocompletion({ activateOnTypingDelay: 15, override: [(context) => complete(path(), context)], icons: false }),
    hoverTooltip(async (view: EditorView, position) => {
      await language('write', path(), view.state.doc.toString())
      const info = await language('describe', path(), position)
      if (!info) return null
      return {
        pos: info.start,
        end: info.end,
        create: () => {
          const dom = document.createElement('div')
          dom.className = 'language-hover'
          const code = dom.appendChild(document.createElement('code'))
          code.textContent = info.text
          if (info.doc) dom.appendChild(document.createElement('div')).textContent = info.doc
          return { dom }
        },
      }
    }),
  ]
}
