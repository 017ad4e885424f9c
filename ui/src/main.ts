import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import { door, orSoon } from './api/client'
import App from './App.vue'
import { outbox } from './keep/outbox'
import { begin } from './keep/tab'
import { router } from './router'
import { askWho, me } from './support/me'
import { renewed } from './support/renewed'
import { startUnits } from './support/units'
import './styles.css'

await begin()
void outbox.start()
// A figure is never shown or read in a unit that is not the workshop's own.
await askWho()
if (me.role) await startUnits()

door.shut = () => {
  Object.assign(me, { network: true, role: null })
  void router.push('/pair')
}

// A newer build took this one's parts away: the page that was asked for is opened whole, from the new one.
window.addEventListener('vite:preloadError', (event) => {
  event.preventDefault()
  renewed.value = true
})
router.onError((_error, to) => {
  if (renewed.value) window.location.assign(to.fullPath)
})

createApp(App)
  .use(router)
  .use(VueQueryPlugin, {
    queryClientConfig: {
      defaultOptions: {
        queries: {
          networkMode: 'always', // the server may be on this very machine, whatever the browser thinks of the network
          shallow: true, // an answer is replaced, never changed: proxies of a whole shelf cost every keystroke dear
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
