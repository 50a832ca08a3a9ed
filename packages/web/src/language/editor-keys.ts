import type { Target } from '@patient-hook/core/language'
import { Facet, StateEffect, StateField, type Extension } from '@codemirror/state'
import { EditorView, keymap, showPanel, showTooltip, type Panel, type Tooltip, type ViewUpdate } from '@codemirror/view'
import { language } from './client'

/** Go to definition (F12), rename (F2) and what a call takes, in the editor. */

export interface Navigation {
  /** The file that the editor shows now. */
  path(): string
  goTo(target: Target): void
  /** @returns why it could not be done, or null */
  rename(offset: number, name: string): Promise<string | null>
}

const setSignature = StateEffect.define<Tooltip | null>()
const signatureField = StateField.define<Tooltip | null>({
  create: () => null,
  update(tooltip, transaction) {
    for (const effect of transaction.effects) if (effect.is(setSignature)) return effect.value
    if (!tooltip || !transaction.docChanged) return tooltip
    return { ...tooltip, pos: transaction.changes.mapPos(tooltip.pos) }
  },
  provide: (field) => showTooltip.from(field),
})

async function lookForSignature(view: EditorView, path: string): Promise<void> {
  const { head } = view.state.selection.main
  await language('write', path, view.state.doc.toString())
  const call = await language('signature', path, head)
  if (view.state.selection.main.head !== head) return
  const tooltip: Tooltip | null = call && {
    pos: head,
    above: true,
    create: () => {
      const dom = document.createElement('div')
      dom.className = 'language-hover'
      const code = dom.appendChild(document.createElement('code'))
      const { label, active, doc } = call
      if (active) {
        code.append(label.slice(0, active.start))
        code.appendChild(document.createElement('b')).textContent = label.slice(active.start, active.end)
        code.append(label.slice(active.end))
      } else code.textContent = label
      if (doc) dom.appendChild(document.createElement('div')).textContent = doc
      return { dom }
    },
  }
  view.dispatch({ effects: setSignature.of(tooltip) })
}

function signatures(path: () => string): Extension {
  return [
    signatureField,
    EditorView.updateListener.of((update: ViewUpdate) => {
      const shown = update.state.field(signatureField) !== null
      if (!update.docChanged && !(update.selectionSet && shown)) return
      if (update.transactions.some((each) => each.effects.some((effect) => effect.is(setSignature)))) return
      const typed = update.docChanged
        ? update.state.sliceDoc(update.state.selection.main.head - 1, update.state.selection.main.head)
        : ''
      // A call begins with ( and continues with commas; while one is shown every step may end it.
      if (shown || typed === '(' || typed === ',') void lookForSignature(update.view, path())
    }),
    keymap.of([
      {
        key: 'Escape',
        run: (view) => {
          if (!view.state.field(signatureField)) return false
          view.dispatch({ effects: setSignature.of(null) })
          return true
        },
      },
    ]),
  ]
}

const navigationOf = Facet.define<Navigation, Navigation | null>({ combine: (all) => all[0] ?? null })

const setRenaming = StateEffect.define<number | null>()
const renameField = StateField.define<number | null>({
  create: () => null,
  update(value, transaction) {
    for (const effect of transaction.effects) if (effect.is(setRenaming)) return effect.value
    return value
  },
  provide: (field) => showPanel.from(field, (offset) => (offset === null ? null : renamePanel)),
})

function renamePanel(view: EditorView): Panel {
  const dom = document.createElement('form')
  dom.className = 'rename-panel'
  const offset = view.state.field(renameField) ?? 0
  const word = view.state.wordAt(offset)
  const input = document.createElement('input')
  input.setAttribute('aria-label', 'New name')
  input.value = word ? view.state.sliceDoc(word.from, word.to) : ''
  const said = document.createElement('span')
  said.setAttribute('role', 'alert')
  const close = () => {
    view.dispatch({ effects: setRenaming.of(null) })
    view.focus()
  }
  dom.append('Rename to ', input, said)
  dom.addEventListener('submit', (event) => {
    event.preventDefault()
    void view.state
      .facet(navigationOf)
      ?.rename(offset, input.value.trim())
      .then((problem) => {
        if (problem === null) close()
        else said.textContent = problem
      })
  })
  dom.addEventListener('keydown', (event) => {
    if (event.key === 'Escape') close()
    event.stopPropagation()
  })
  return { dom, top: true, mount: () => input.select() }
}

function goTo(view: EditorView, offset: number): void {
  const navigation = view.state.facet(navigationOf)
  if (!navigation) return
  const path = navigation.path()
  void language('write', path, view.state.doc.toString())
    .then(() => language('goTo', path, offset))
    .then((target) => target && navigation.goTo(target))
}

/** @param navigation what the page does about it */
export function navigationKeys(navigation: Navigation): Extension {
  return [
    navigationOf.of(navigation),
    renameField,
    signatures(navigation.path),
    keymap.of([
      {
        key: 'F12',
        run: (view) => {
          goTo(view, view.state.selection.main.head)
          return true
        },
      },
      {
        key: 'F2',
        run: (view) => {
          view.dispatch({ effects: setRenaming.of(view.state.selection.main.head) })
          return true
        },
      },
    ]),
    EditorView.domEventHandlers({
      mousedown(event, view) {
        if (!event.ctrlKey && !event.metaKey) return false
        const offset = view.posAtCoords({ x: event.clientX, y: event.clientY })
        if (offset === null) return false
        goTo(view, offset)
        return true
      },
    }),
  ]
}
