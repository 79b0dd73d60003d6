import '@fontsource-variable/figtree/index.css'
import '@fontsource-variable/fraunces/index.css'
import '@fontsource-variable/source-serif-4/index.css'
import 'vuetify/styles'
import './style.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { offerNewVersion } from './newVersion'
import { router } from './router'
import { vOneStop } from './app/oneStop'
import { vuetify } from './app/theme'

const app = createApp(App)
app.directive('one-stop', vOneStop)
app.use(createPinia()).use(router).use(vuetify).mount('#app')
offerNewVersion()
