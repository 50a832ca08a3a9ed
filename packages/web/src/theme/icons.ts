import {
  mdiAccountCircleOutline,
  mdiCheck,
  mdiChevronDown,
  mdiDatabaseOutline,
  mdiKeyboardOutline,
  mdiMagnify,
  mdiPencilOutline,
  mdiPlayCircleOutline,
  mdiShieldCheckOutline,
  mdiTableCog,
  mdiTagOutline,
  mdiWeatherNight,
  mdiWhiteBalanceSunny,
} from '@mdi/js'

/** One icon for each meaning, wherever it is shown. */
export const ICONS = {
  model: mdiTableCog,
  write: mdiPencilOutline,
  rehearse: mdiPlayCircleOutline,
  prove: mdiShieldCheckOutline,
  release: mdiTagOutline,
  records: mdiDatabaseOutline,
  account: mdiAccountCircleOutline,
  chosen: mdiCheck,
  open: mdiChevronDown,
  search: mdiMagnify,
  shortcuts: mdiKeyboardOutline,
  dark: mdiWeatherNight,
  light: mdiWhiteBalanceSunny,
} as const
