import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import { door, orSoon } from './api/client'
import App from './App.vue'
import { outbox } from './keep/outbox'
import { router } from './router'
import { askWho, me } from './support/me'
import { startUnits } from './support/units'
import './styles.css'

void outbox.start()
// A figure is never shown or read in a unit that is not the workshop's own.
await askWho()
if (me.role) await startUnits()

door.shut = () => {
  Object.assign(me, { network: true, role: null })
  void router.push('/pair')
}

createApp(App)
  .use(router)
  .use(VueQueryPlugin, {
    queryClientConfig: {
      defaultOptions: {
        queries: {
          retry: 1,
          staleTime: 2000,
          refetchInterval: orSoon(false),
        },
      },
    },
  })
  .mount('#app')

/** The shell opens without a network from now on; where none may be kept, nothing else changes. */
navigator.serviceWorker
  ?.register('/sw.js')
  .then(() => navigator.serviceWorker.ready)
  .then((worker) => worker.active?.postMessage('renew'))
  .catch(() => undefined)
