<script setup lang="ts">
import { javascript } from '@codemirror/lang-javascript'
import { EditorState } from '@codemirror/state'
import { EditorView, lineNumbers } from '@codemirror/view'
import { unifiedMergeView } from '@codemirror/merge'
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'
import { editorTheme } from '../../components/editor-theme'

/** What became of one file, to be read: taken-out lines is above those that came in. */
const props = defineProps<{ file: string; before: string; after: string }>()
const holder = useTemplateRef<HTMLDivElement>('holder')
let view: EditorView | null = null

/** Lines without a change that are shown around one. */
const AROUND = 3

function show(): void {
  view?.destroy()
  view = new EditorView({
    parent: holder.value!,
    state: EditorState.create({
      doc: props.after,
      extensions: [
        lineNumbers(),
        javascript({ typescript: true }),
        editorTheme,
        EditorState.readOnly.of(true),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ 'aria-label': `New version of ${props.file}`, tabindex: '0' }),
        unifiedMergeView({
          original: props.before,
          mergeControls: false,
          collapseUnchanged: { margin: AROUND, minSize: 6 },
          gutter: true,
        }),
      ],
    }),
  })
}
onMounted(show)
watch(() => [props.file, props.before, props.after], show)
onBeforeUnmount(() => view?.destroy())
</script>

<template>
  <div ref="holder" class="diff" data-test="diff" />
</template>

<style scoped>
.diff {
  min-height: 0;
  overflow: hidden;
}
.diff :deep(.cm-changedLine) {
  background: rgba(var(--v-theme-success), 0.13);
}
.diff :deep(.cm-deletedChunk) {
  background: rgba(var(--v-theme-error), 0.11);
  color: inherit;
}
.diff :deep(.cm-changedText) {
  background: none;
  text-decoration: underline 2px rgb(var(--v-theme-success));
  text-underline-offset: 3px;
}
.diff :deep(.cm-deletedText) {
  background: none;
  text-decoration: underline 2px rgb(var(--v-theme-error));
  text-underline-offset: 3px;
}
.diff :deep(.cm-changeGutter) {
  width: 4px;
}
.diff :deep(.cm-changedLineGutter) {
  background: rgb(var(--v-theme-success));
}
.diff :deep(.cm-deletedLineGutter) {
  background: rgb(var(--v-theme-error));
}
.diff :deep(.cm-collapsedLines) {
  background: rgb(var(--v-theme-surface-variant));
  color: rgb(var(--v-theme-on-surface-variant));
  font-family: var(--sans);
}
/* The library's own signs are in no font that ships with the application. */
.diff :deep(.cm-collapsedLines::before),
.diff :deep(.cm-collapsedLines::after) {
  content: '⋯';
}
</style>
