import type { DefaultsInstance } from 'vuetify'

/** How Vuetify’s components look everywhere: compact, outlined, in sentence case. */
export const defaults: NonNullable<DefaultsInstance> = {
  VBtn: { variant: 'text', density: 'comfortable', rounded: 'sm', class: 'text-none' },
  VTextField: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
  VTextarea: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
  VSelect: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
  VAutocomplete: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
  VCheckbox: { density: 'compact', hideDetails: 'auto', color: 'primary' },
  VTooltip: { openDelay: 400, location: 'bottom' },
  VDialog: { maxWidth: 560 },
  VList: { density: 'compact' },
}
