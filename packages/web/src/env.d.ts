/// <reference types="vite/client" />
declare module 'splitpanes' {
  import type { DefineComponent } from 'vue'
  export const Splitpanes: DefineComponent<Record<string, unknown>>
  export const Pane: DefineComponent<Record<string, unknown>>
}
declare module '*.css'
declare module '@fontsource-variable/source-sans-3'
declare module '@fontsource-variable/source-code-pro'
declare module 'vuetify/styles'
