import '@fontsource-variable/literata/index.css'
import '@fontsource-variable/literata/wght-italic.css'
import '@fontsource/ibm-plex-sans/400.css'
import '@fontsource/ibm-plex-sans/500.css'
import '@fontsource/ibm-plex-sans/600.css'
import '@fontsource/ibm-plex-mono/400.css'
import '@fontsource/ibm-plex-mono/500.css'
import 'element-plus/theme-chalk/base.css'
import './theme/tokens.css'
import './theme/base.css'

import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'

import { Problem } from './api/client'
import App from './App.vue'
import { router } from './router'

const queryClient = new QueryClient({
  defaultOptions: {
    // The server may run on this machine: that there is no network says nothing about it.
    mutations: { networkMode: 'always' },
    queries: {
      networkMode: 'always',
      retry: (count, error) => count < 2 && !(error instanceof Problem && error.status >= 400 && error.status < 500),
      refetchOnWindowFocus: false,
    },
  },
})

createApp(App).use(createPinia()).use(router).use(VueQueryPlugin, { queryClient }).mount('#app')
