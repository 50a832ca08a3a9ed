import { Chunk } from '@codemirror/merge'
import { RangeSet, StateEffect, StateField, Text, type EditorState, type Extension } from '@codemirror/state'
import { EditorView, gutter, GutterMarker } from '@codemirror/view'

/** Beside each line: whether it differs from the live version of the file. */

type Kind = 'added' | 'changed' | 'removed'
const SAYS: Record<Kind, string> = {
  added: 'not in the live version',
  changed: 'changed since the live version',
  removed: 'lines of the live version were removed here',
}

class ChangeMarker extends GutterMarker {
  constructor(private readonly kind: Kind) {
    super()
  }
  override eq(other: ChangeMarker): boolean {
    return other.kind === this.kind
  }
  override toDOM(): HTMLElement {
    const dom = document.createElement('span')
    dom.className = `cm-live cm-live-${this.kind}`
    dom.title = SAYS[this.kind]
    return dom
  }
}

/** The live text of the open file; null where it has none. */
export const setLiveText = StateEffect.define<string | null>()

interface Comparison {
  live: Text | null
  markers: RangeSet<GutterMarker>
}

function markersOf(live: Text, doc: Text): RangeSet<GutterMarker> {
  const ranges = Chunk.build(live, doc).flatMap(({ fromA, toA, fromB, toB }) => {
    if (fromB === toB) return [new ChangeMarker('removed').range(doc.lineAt(Math.min(fromB, doc.length)).from)]
    const kind = fromA === toA ? 'added' : 'changed'
    const [first, last] = [doc.lineAt(fromB).number, doc.lineAt(Math.min(toB, doc.length + 1) - 1).number]
    return Array.from({ length: last - first + 1 }, (_, index) => new ChangeMarker(kind).range(doc.line(first + index).from))
  })
  return RangeSet.of(ranges, true)
}

const comparison = StateField.define<Comparison>({
  create: () => ({ live: null, markers: RangeSet.empty }),
  update(before, transaction) {
    const set = transaction.effects.find((effect) => effect.is(setLiveText))
    if (!set && !transaction.docChanged) return before
    const live = set ? (set.value === null ? null : Text.of(set.value.split('\n'))) : before.live
    return { live, markers: live ? markersOf(live, transaction.state.doc) : RangeSet.empty }
  },
})

export const liveGutter: Extension = [
  comparison,
  gutter({ class: 'cm-liveGutter', markers: (view: { state: EditorState }) => view.state.field(comparison).markers }),
  EditorView.baseTheme({
    '.cm-liveGutter': { width: '5px' },
    '.cm-live': { display: 'block', width: '3px', height: '100%', marginLeft: '1px' },
    '.cm-live-added': { background: 'rgb(var(--v-theme-success))' },
    '.cm-live-changed': { background: 'rgb(var(--v-theme-copper))' },
    '.cm-live-removed': { borderTop: '2px solid rgb(var(--v-theme-error))', width: '5px' },
  }),
]
