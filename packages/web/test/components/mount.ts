import { createTestingPinia } from './pinia'
import { mount as mountPlain, type ComponentMountingOptions } from '@vue/test-utils'
import type { Component } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { createVuetify } from 'vuetify'
import * as components from 'vuetify/components'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import { defaults } from '../../src/theme/defaults'

// happy-dom has none; Vuetify's overlays listen to it.
globalThis.visualViewport ??= new EventTarget() as VisualViewport

/** A component as the application shows it: with Vuetify, stores and a router that goes nowhere. */
export function mount<C extends Component>(component: C, options: { props?: object; slots?: object } = {}) {
  const vuetify = createVuetify({ components, defaults, icons: { defaultSet: 'mdi', aliases, sets: { mdi } } })
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', name: 'records', component: { render: () => null } }],
  })
  return mountPlain(component, {
    attachTo: document.body,
    ...options,
    global: { plugins: [vuetify, router, createTestingPinia()] },
  } as ComponentMountingOptions<C>)
}
