import '@fontsource-variable/source-sans-3'
import 'vuetify/styles/core'
import './shared/style.css'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router'
import { vuetify } from './shared/theme'

createApp(App)
  .use(router)
  .use(vuetify)
  .use(VueQueryPlugin, {
    queryClientConfig: {
      defaultOptions: {
        // Answers are replaced whole: made reactive down to each figure, a board of hundreds of rows is slow to scroll.
        queries: { retry: false, refetchOnWindowFocus: false, staleTime: 5_000, shallow: true },
      },
    },
  })
  .mount('#app')
