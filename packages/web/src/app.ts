import './reset.css'
import '@fontsource-variable/source-sans-3'
import '@fontsource-variable/source-code-pro'
import 'vuetify/styles'
import 'splitpanes/dist/splitpanes.css'
import './styles.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { warmUp } from './language/client'
import { router } from './router'
import { vuetify } from './theme'

createApp(App).use(createPinia()).use(router).use(vuetify).mount('#app')

// Whoever goes to Write later finds the typed editor ready.
requestIdleCallback(warmUp)
