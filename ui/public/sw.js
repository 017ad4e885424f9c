/**
 * Keeps the shell, so that the app opens where no network reaches: its page and files, and nothing that was reckoned.
 *
 * What the workshop knows is asked for each time and never kept here; taps wait in the outbox, which is the page's.
 */
/* global self, caches, fetch, Request, Response, URL, AbortSignal */
const SHELF = 'shell'
const PATIENCE = 3000 // ms a page is waited for before the kept one is shown

/** Fetch what is new in this build, and let go of what is in it no more. */
async function renew() {
  const shelf = await caches.open(SHELF)
  const answer = await fetch('/shell.json', { cache: 'no-store' })
  if (!answer.ok) return
  const wanted = (await answer.json()).map((file) => `/${file}`)
  const kept = (await shelf.keys()).map((request) => new URL(request.url).pathname)
  await shelf.add(new Request('/', { cache: 'no-store' }))
  await Promise.all(wanted.filter((file) => !kept.includes(file)).map((file) => shelf.add(file)))
  const gone = kept.filter((file) => file !== '/' && !wanted.includes(file))
  await Promise.all(gone.map((file) => shelf.delete(file)))
}

async function page(request) {
  try {
    const answer = await fetch(request, { signal: AbortSignal.timeout(PATIENCE) })
    if (answer.status < 500) return answer
    throw new Error('busy')
  } catch {
    return (await caches.match('/')) ?? Response.error()
  }
}

async function file(request) {
  return (await caches.match(request)) ?? fetch(request)
}

self.addEventListener('install', (event) => {
  self.skipWaiting()
  // Where the browser can, what is asked of the workshop does not pass through here at all.
  const past = event.addRoutes?.({ condition: { urlPattern: '/api/*' }, source: 'network' })
  event.waitUntil(Promise.all([renew(), Promise.resolve(past).catch(() => undefined)]))
})
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()))
self.addEventListener('message', (event) => event.waitUntil(renew().catch(() => undefined)))
self.addEventListener('fetch', (event) => {
  const { pathname, origin } = new URL(event.request.url)
  if (event.request.method !== 'GET' || origin !== self.location.origin || pathname.startsWith('/api/'))
    return
  if (event.request.mode === 'navigate') event.respondWith(page(event.request))
  else if (pathname.startsWith('/assets/')) event.respondWith(file(event.request))
})
