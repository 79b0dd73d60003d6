import '@fontsource-variable/figtree/index.css'
import '@fontsource-variable/fraunces/index.css'
import '@fontsource-variable/source-serif-4/index.css'
import 'vuetify/styles'
import './style.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router'
import { vuetify } from './app/theme'

createApp(App).use(createPinia()).use(router).use(vuetify).mount('#app')
