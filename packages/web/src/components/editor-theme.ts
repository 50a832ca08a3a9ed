import { HighlightStyle, syntaxHighlighting } from '@codemirror/language'
import type { Extension } from '@codemirror/state'
import { EditorView } from '@codemirror/view'
import { tags } from '@lezer/highlight'

/** The editor in ink on paper; colours come from the page's theme, so the dark theme needs no extra styles. */
const theme = EditorView.theme({
  '&': {
    height: '100%',
    fontSize: '13px',
    backgroundColor: 'rgb(var(--v-theme-surface))',
    color: 'rgb(var(--v-theme-on-surface))',
  },
  '&.cm-focused': { outline: 'none' },
  '.cm-scroller': { fontFamily: 'var(--mono)', lineHeight: '1.55' },
  '.cm-content': { caretColor: 'rgb(var(--v-theme-primary))' },
  '.cm-cursor': { borderLeftColor: 'rgb(var(--v-theme-primary))', borderLeftWidth: '2px' },
  '.cm-gutters': {
    backgroundColor: 'rgb(var(--v-theme-background))',
    color: 'rgba(var(--v-theme-on-surface), 0.66)',
    borderRight: '1px solid rgb(var(--v-theme-line))',
  },
  '.cm-coverage': { width: '4ch', fontFamily: 'var(--sans)', fontSize: '11.5px', textAlign: 'right' },
  '.cm-covered': { cursor: 'default' },
  '.cm-run': { color: 'rgb(var(--v-theme-success))' },
  '.cm-partly': { color: 'rgb(var(--v-theme-copper))', fontWeight: '600' },
  '.cm-not-run': { color: 'rgb(var(--v-theme-error))', fontWeight: '700' },
  '.cm-activeLine': { backgroundColor: 'rgba(var(--v-theme-primary), 0.05)' },
  '.cm-activeLineGutter': { backgroundColor: 'rgba(var(--v-theme-primary), 0.1)', color: 'rgb(var(--v-theme-on-surface))' },
  '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': {
    backgroundColor: 'rgba(var(--v-theme-primary), 0.2) !important',
  },
  '.cm-tooltip': {
    backgroundColor: 'rgb(var(--v-theme-surface))',
    border: '1px solid rgb(var(--v-theme-line))',
    fontFamily: 'var(--sans)',
  },
  '.cm-tooltip-autocomplete ul li[aria-selected]': {
    backgroundColor: 'rgb(var(--v-theme-primary))',
    color: 'rgb(var(--v-theme-on-primary))',
  },
  '.cm-panels': { backgroundColor: 'rgb(var(--v-theme-surface))', color: 'inherit' },
  '.cm-lineValue': {
    marginLeft: '2.5ch',
    padding: '0 5px',
    borderLeft: '2px solid rgba(var(--v-theme-copper), 0.55)',
    backgroundColor: 'rgba(var(--v-theme-copper), 0.09)',
    fontFamily: 'var(--sans)',
    fontSize: '12px',
    color: 'rgb(var(--v-theme-copper))',
    whiteSpace: 'nowrap',
    cursor: 'default',
  },
  '.rename-panel': { display: 'flex', gap: '8px', alignItems: 'center', padding: '4px 12px', fontFamily: 'var(--sans)' },
  '.rename-panel input': {
    font: 'inherit',
    fontFamily: 'var(--mono)',
    color: 'inherit',
    background: 'rgb(var(--v-theme-background))',
    border: '1px solid rgb(var(--v-theme-line))',
    borderRadius: '4px',
    padding: '1px 6px',
  },
  '.rename-panel [role=alert]': { color: 'rgb(var(--v-theme-error))' },
  '.cm-line.cm-chosenLine': { backgroundColor: 'rgba(var(--v-theme-copper), 0.16)' },
})

const ink = HighlightStyle.define([
  { tag: [tags.keyword, tags.controlKeyword, tags.moduleKeyword], color: 'rgb(var(--v-theme-primary))', fontWeight: '600' },
  { tag: [tags.string, tags.regexp], color: 'rgb(var(--v-theme-copper))' },
  { tag: [tags.number, tags.bool, tags.null], color: 'rgb(var(--v-theme-info))' },
  { tag: tags.comment, color: 'rgba(var(--v-theme-on-surface), 0.7)', fontStyle: 'italic' },
  { tag: tags.propertyName, color: 'rgb(var(--v-theme-on-surface))' },
  { tag: [tags.function(tags.variableName), tags.function(tags.propertyName)], color: 'rgb(var(--v-theme-success))' },
  { tag: [tags.typeName, tags.className], color: 'rgb(var(--v-theme-secondary))' },
])

export const editorTheme: Extension = [theme, syntaxHighlighting(ink)]
