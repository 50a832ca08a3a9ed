import { RangeSet, StateEffect, StateField, type Extension } from '@codemirror/state'
import { EditorView, gutter, GutterMarker } from '@codemirror/view'
import type { LineCoverage } from '../lib/line-coverage'

/** Beside each line: how many unit tests run it. The column keeps its place while nothing is known. */

class CoverageMarker extends GutterMarker {
  constructor(private readonly coverage: LineCoverage) {
    super()
  }
  override eq(other: CoverageMarker): boolean {
    return other.coverage.text === this.coverage.text && other.coverage.says === this.coverage.says
  }
  override toDOM(): HTMLElement {
    const dom = document.createElement('span')
    dom.className = `cm-covered cm-${this.coverage.tone}`
    dom.textContent = this.coverage.text
    dom.title = [this.coverage.says, ...this.coverage.tests].join('\n')
    return dom
  }
}

export const setCoverage = StateEffect.define<readonly LineCoverage[]>()

const markers = StateField.define<RangeSet<GutterMarker>>({
  create: () => RangeSet.empty,
  update(set, transaction) {
    let next = set.map(transaction.changes)
    for (const effect of transaction.effects) {
      if (!effect.is(setCoverage)) continue
      const { doc } = transaction.state
      next = RangeSet.of(
        effect.value
          .filter(({ line }) => line >= 1 && line <= doc.lines)
          .map((coverage) => new CoverageMarker(coverage).range(doc.line(coverage.line).from)),
        true,
      )
    }
    return next
  },
})

export const coverageGutter: Extension = [
  markers,
  gutter({ class: 'cm-coverage', markers: (view: EditorView) => view.state.field(markers) }),
]
