import '@fontsource-variable/atkinson-hyperlegible-mono'
import '@fontsource-variable/atkinson-hyperlegible-next'
import './styles.css'

import { createPinia } from 'pinia'
import PrimeVue from 'primevue/config'
import Tooltip from 'primevue/tooltip'
import { createApp } from 'vue'

import App from './App.vue'
import { router } from './router'
import { paperAndInk } from './theme'

createApp(App)
  .use(createPinia())
  .use(router)
  .use(PrimeVue, { theme: { preset: paperAndInk, options: { darkModeSelector: '.lamp' } } })
  .directive('tooltip', Tooltip)
  .mount('#app')
