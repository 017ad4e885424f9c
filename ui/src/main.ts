import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import App from './App.vue'
import { outbox } from './keep/outbox'
import { router } from './router'
import './styles.css'

void outbox.start()

createApp(App)
  .use(router)
  .use(VueQueryPlugin, {
    queryClientConfig: { defaultOptions: { queries: { retry: 1, staleTime: 2000 } } },
  })
  .mount('#app')
