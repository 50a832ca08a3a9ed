import './reset.css'
import '@fontsource-variable/source-sans-3'
import '@fontsource-variable/source-code-pro'
import 'vuetify/styles'
import 'splitpanes/dist/splitpanes.css'
import './theme/density.css'
import './theme/layout.css'
import './theme/links.css'
import './components/grid/grid.css'
import './components/editor.css'
import './styles.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { warmUp } from './language/client'
import { router } from './router'
import { vuetify } from './theme'

createApp(App).use(createPinia()).use(router).use(vuetify).mount('#app')

// A user who goes to Write later finds the typed editor ready.
requestIdleCallback(warmUp)
