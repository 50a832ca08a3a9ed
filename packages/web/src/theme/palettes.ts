import type { ThemeDefinition } from 'vuetify'

/** A field notebook: warm paper, ink, one deep spruce accent, copper for what a hook changed; and a dark twin. */
export const paper: ThemeDefinition = {
  dark: false,
  colors: {
    background: '#f6f1e4',
    surface: '#fdfaf2',
    'surface-variant': '#eae2cf',
    'on-surface-variant': '#3d3a33',
    primary: '#1f4d43',
    secondary: '#6b5d45',
    error: '#9c2b23',
    warning: '#8a5a00',
    info: '#2f5573',
    success: '#2f6238',
    'on-background': '#26241f',
    'on-surface': '#26241f',
    copper: '#964616',
    line: '#d8ceb6',
  },
}

export const night: ThemeDefinition = {
  dark: true,
  colors: {
    background: '#1b1d1a',
    surface: '#232621',
    'surface-variant': '#31352e',
    'on-surface-variant': '#d5d0c2',
    primary: '#8cc7b5',
    secondary: '#c3b597',
    error: '#f0958a',
    warning: '#e2b25c',
    info: '#9cc3e2',
    success: '#98cf9f',
    'on-background': '#ece7d9',
    'on-surface': '#ece7d9',
    'on-primary': '#0f211c',
    copper: '#eba475',
    line: '#42463d',
  },
}
