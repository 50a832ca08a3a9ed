<script lang="ts">
import { historyField } from '@codemirror/commands'
import type { EditorState } from '@codemirror/state'

export interface LineMark {
  line: number
  message: string
  severity: 'error' | 'warning' | 'info'
  /** Offsets, where more than the line is known. */
  start?: number
  end?: number
}

/** Undo history and cursor of each file, for as long as the page lives: leaving a file or the view loses neither. */
const remembered = new Map<string, unknown>()
const FIELDS = { history: historyField }
const remember = (path: string, state: EditorState) => remembered.set(path, state.toJSON(FIELDS))
</script>

<script setup lang="ts">
import { closeBrackets, closeBracketsKeymap, completionKeymap } from '@codemirror/autocomplete'
import { defaultKeymap, history, historyKeymap, indentWithTab } from '@codemirror/commands'
import { javascript } from '@codemirror/lang-javascript'
import { bracketMatching, indentOnInput } from '@codemirror/language'
import { lintGutter, setDiagnostics, type Diagnostic as EditorDiagnostic } from '@codemirror/lint'
import { diff } from '@codemirror/merge'
import { highlightSelectionMatches, searchKeymap } from '@codemirror/search'
import { EditorState as State, type EditorStateConfig, type Extension } from '@codemirror/state'
import { drawSelection, EditorView, highlightActiveLine, highlightActiveLineGutter, keymap, lineNumbers } from '@codemirror/view'
import { onBeforeUnmount, onMounted, shallowRef, useTemplateRef, watch } from 'vue'
import type { LineValue } from '../lib/line-values'
import type { LineCoverage } from '../lib/line-coverage'
import { coverageGutter, setCoverage } from './coverage-gutter'
import { editorTheme } from './editor-theme'
import { liveGutter, setLiveText } from './live-gutter'
import { lineMarks, setChosenLine, setLineValues } from './line-marks'

/** The code editor: one file at a time, with marks at lines and values beside them. */

const props = withDefaults(
  defineProps<{
    path: string
    text: string
    marks: readonly LineMark[]
    values?: readonly LineValue[]
    /** What unit tests run of each line; nothing where that is not known of this text. */
    coverage?: readonly LineCoverage[]
    /** The live version of the text; null where there is none. */
    live?: string | null
    /** The line that wrote the chosen cell. */
    chosenLine?: number | null
    extensions?: Extension
  }>(),
  { values: () => [], coverage: () => [], live: null, chosenLine: null, extensions: () => [] },
)
const emit = defineEmits<{ change: [path: string, text: string]; run: []; save: []; test: []; line: [line: number] }>()

const holder = useTemplateRef<HTMLDivElement>('holder')
const view = shallowRef<EditorView | null>(null)
let shown = ''
let line = 0

function makeState(path: string, text: string): State {
  const command = (run: () => void) => () => {
    run()
    return true
  }
  const config: EditorStateConfig = {
    doc: text,
    extensions: [
      coverageGutter,
      lineNumbers(),
      liveGutter,
      highlightActiveLine(),
      highlightActiveLineGutter(),
      history(),
      drawSelection(),
      indentOnInput(),
      bracketMatching(),
      closeBrackets(),
      highlightSelectionMatches(),
      lintGutter(),
      javascript({ typescript: true }),
      editorTheme,
      lineMarks,
      EditorView.lineWrapping,
      State.tabSize.of(2),
      EditorView.contentAttributes.of({ 'aria-label': 'Code of the hook', tabindex: '0' }),
      keymap.of([
        { key: 'Mod-s', run: command(() => emit('save')) },
        { key: 'Mod-Enter', run: command(() => emit('run')) },
        { key: 'Mod-Shift-Enter', run: command(() => emit('test')) },
        ...closeBracketsKeymap,
        ...defaultKeymap,
        ...searchKeymap,
        ...historyKeymap,
        ...completionKeymap,
        indentWithTab,
      ]),
      EditorView.updateListener.of((update) => {
        if (update.docChanged) emit('change', shown, update.state.doc.toString())
        const now = update.state.doc.lineAt(update.state.selection.main.head).number
        if (now !== line) emit('line', (line = now))
      }),
      props.extensions,
    ],
  }
  const kept = remembered.get(path) as { doc: string } | undefined
  return kept?.doc === text ? State.fromJSON(kept, config, FIELDS) : State.create(config)
}

function show(): void {
  const editor = view.value
  if (!editor) return
  if (shown !== props.path) {
    if (shown !== '') remember(shown, editor.state)
    shown = props.path
    line = 0
    editor.setState(makeState(shown, props.text))
    mark()
    showValues()
    showCoverage()
    showLive()
    showChosen()
  } else if (editor.state.doc.toString() !== props.text) replace(props.text)
}

/** Puts another text in place of what is there, as one step of undo that touches only the differences: the cursor stays where it was. */
function replace(text: string): void {
  const editor = view.value
  if (!editor) return
  const parts = diff(editor.state.doc.toString(), text)
  editor.dispatch({
    changes: parts.map(({ fromA, toA, fromB, toB }) => ({ from: fromA, to: toA, insert: text.slice(fromB, toB) })),
  })
}

function mark(): void {
  const editor = view.value
  if (!editor) return
  const { doc } = editor.state
  const diagnostics = props.marks
    .filter((each) => each.line >= 1 && each.line <= doc.lines)
    .map((each): EditorDiagnostic => {
      const at = doc.line(each.line)
      const indent = /^\s*/.exec(at.text)![0].length
      if (each.start !== undefined && each.end !== undefined && each.end <= doc.length)
        return { from: each.start, to: Math.max(each.end, each.start), severity: each.severity, message: each.message }
      return { from: at.from + indent, to: at.to, severity: each.severity, message: each.message }
    })
  editor.dispatch(setDiagnostics(editor.state, diagnostics))
}
const showValues = () => view.value?.dispatch({ effects: setLineValues.of(props.values) })
const showCoverage = () => view.value?.dispatch({ effects: setCoverage.of(props.coverage) })
const showLive = () => view.value?.dispatch({ effects: setLiveText.of(props.live) })
const showChosen = () => view.value?.dispatch({ effects: setChosenLine.of(props.chosenLine) })

onMounted(() => {
  view.value = new EditorView({ parent: holder.value! })
  show()
})
onBeforeUnmount(() => {
  if (view.value && shown !== '') remember(shown, view.value.state)
  view.value?.destroy()
})
watch(() => [props.path, props.text], show)
watch(() => props.marks, mark, { deep: true })
watch(() => props.values, showValues)
watch(() => props.coverage, showCoverage)
watch(() => props.live, showLive)
watch(() => props.chosenLine, showChosen)

/** Puts the cursor on a line and shows it. */
function goTo(wanted: number): void {
  const editor = view.value
  if (!editor || wanted < 1 || wanted > editor.state.doc.lines) return
  const { from } = editor.state.doc.line(wanted)
  editor.dispatch({ selection: { anchor: from }, effects: EditorView.scrollIntoView(from, { y: 'center' }) })
  editor.focus()
}
/** Shows a line without going there. */
function reveal(wanted: number): void {
  const editor = view.value
  if (!editor || wanted < 1 || wanted > editor.state.doc.lines) return
  editor.dispatch({ effects: EditorView.scrollIntoView(editor.state.doc.line(wanted).from, { y: 'nearest' }) })
}
/** Changes parts of the text, as one step of undo. */
function edit(edits: readonly { start: number; end: number; text: string }[]): void {
  view.value?.dispatch({ changes: edits.map(({ start, end, text }) => ({ from: start, to: end, insert: text })) })
}
/** Puts text where the cursor is. */
function insert(text: string): void {
  const editor = view.value
  if (!editor) return
  editor.dispatch(editor.state.replaceSelection(text))
  editor.focus()
}
defineExpose({ goTo, reveal, edit, insert, replace })
</script>

<template>
  <div ref="holder" class="editor" />
</template>

<style scoped>
.editor {
  height: 100%;
  overflow: hidden;
}
</style>
