import '@fontsource-variable/newsreader'
import '@fontsource-variable/source-sans-3'
import 'vuetify/styles/core'
import './design/base.css'

import { VueQueryPlugin, QueryClient } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'

import App from './App.vue'
import { Problem } from './api/client'
import { vuetify } from './design/theme'
import { router } from './router'

const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      refetchOnWindowFocus: false,
      // What the server has refused once it will refuse again; only a lost connection is retried.
      retry: (failures, error) => !(error instanceof Problem) && failures < 2,
    },
  },
})

createApp(App)
  .use(createPinia())
  .use(router)
  .use(vuetify)
  .use(VueQueryPlugin, { queryClient })
  .mount('#app')
