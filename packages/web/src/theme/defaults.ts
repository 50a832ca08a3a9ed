import type { DefaultsInstance } from 'vuetify'

const field = { variant: 'outlined', density: 'compact', hideDetails: 'auto' } as const

/** How Vuetify’s components look everywhere: compact, outlined, in sentence case. */
export const defaults: NonNullable<DefaultsInstance> = {
  VBtn: { variant: 'text', size: 'small', rounded: 'sm', class: 'text-none' },
  VTextField: field,
  VTextarea: field,
  VSelect: field,
  VAutocomplete: field,
  VCombobox: field,
  VFileInput: field,
  VCheckbox: { density: 'compact', hideDetails: 'auto', color: 'primary' },
  VSwitch: { density: 'compact', hideDetails: 'auto', color: 'primary' },
  VRadioGroup: { density: 'compact', hideDetails: 'auto', color: 'primary' },
  VTooltip: { openDelay: 400, location: 'bottom' },
  VDialog: { maxWidth: 560 },
  VList: { density: 'compact' },
  VListItem: { minHeight: 28 },
  VTabs: { density: 'compact', height: 32, color: 'primary' },
  VTab: { minWidth: 0 },
  VAlert: { variant: 'tonal', density: 'compact' },
}
