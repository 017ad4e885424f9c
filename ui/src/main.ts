import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import App from './App.vue'
import { outbox } from './keep/outbox'
import { router } from './router'
import { startUnits } from './support/units'
import './styles.css'

void outbox.start()
// A figure is never shown or read in a unit that is not the workshop's own.
await startUnits()

createApp(App)
  .use(router)
  .use(VueQueryPlugin, {
    queryClientConfig: { defaultOptions: { queries: { retry: 1, staleTime: 2000 } } },
  })
  .mount('#app')
