import { StateEffect, StateField, type Extension, type Range } from '@codemirror/state'
import { Decoration, EditorView, WidgetType, type DecorationSet } from '@codemirror/view'
import type { LineValue } from '../lib/line-values'

/** Values at the ends of lines, and lines that are highlighted because a chosen cell was written there. */

class ValueWidget extends WidgetType {
  constructor(private readonly value: LineValue) {
    super()
  }
  override eq(other: ValueWidget): boolean {
    return other.value.text === this.value.text && other.value.title === this.value.title
  }
  override toDOM(): HTMLElement {
    const dom = document.createElement('span')
    dom.className = 'cm-lineValue'
    dom.textContent = this.value.text
    dom.title = this.value.title
    return dom
  }
  override ignoreEvent(): boolean {
    return true
  }
}

export const setLineValues = StateEffect.define<readonly LineValue[]>()
export const setChosenLine = StateEffect.define<number | null>()

function field<T>(effect: ReturnType<typeof StateEffect.define<T>>, make: (value: T, lines: number) => [number, Decoration][]) {
  return StateField.define<DecorationSet>({
    create: () => Decoration.none,
    update(decorations, transaction) {
      let next = decorations.map(transaction.changes)
      for (const each of transaction.effects) {
        if (!each.is(effect)) continue
        const { doc } = transaction.state
        const ranges = make(each.value, doc.lines).map(([line, decoration]): Range<Decoration> => {
          const at = doc.line(line)
          return decoration.spec.widget ? decoration.range(at.to) : decoration.range(at.from)
        })
        next = Decoration.set(ranges, true)
      }
      return next
    },
    provide: (self) => EditorView.decorations.from(self),
  })
}

export const lineMarks: Extension = [
  field(setLineValues, (values, lines) =>
    values
      .filter((each) => each.line >= 1 && each.line <= lines)
      .map((each) => [each.line, Decoration.widget({ widget: new ValueWidget(each), side: 1 })]),
  ),
  field(setChosenLine, (line, lines) =>
    line !== null && line >= 1 && line <= lines ? [[line, Decoration.line({ class: 'cm-chosenLine' })]] : [],
  ),
]
