import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router'
import './theme/style.css'
import { vuetify } from './theme/vuetify'

createApp(App).use(createPinia()).use(router).use(vuetify).mount('#app')
