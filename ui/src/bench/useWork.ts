/** Blending and stirring that was begun on a key and is stopped on the same one; nobody holds it. */
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Tool } from './BenchKeys.vue'

const LEAST = 1 // s of a stretch worth logging
const TICK = 500 // ms

export function useWork(speed: () => number, worked: (tool: Tool, seconds: number) => void) {
  const begun = ref<{ tool: Tool; at: number } | null>(null)
  const now = ref(0)
  const timer = useIntervalFn(() => (now.value = performance.now()), TICK, { immediate: false })
  function start(tool: Tool) {
    if (begun.value) return
    begun.value = { tool, at: performance.now() }
    now.value = performance.now()
    timer.resume()
  }
  function stop() {
    if (!begun.value) return
    const { tool, at } = begun.value
    begun.value = null
    timer.pause()
    const seconds = Math.round((performance.now() - at) / 100) / 10
    worked(tool, Math.max(LEAST, seconds) * speed())
  }
  return {
    working: computed(
      () => begun.value && { tool: begun.value.tool, seconds: (now.value - begun.value.at) / 1000 },
    ),
    start,
    stop,
    toggle: (tool: Tool) => (begun.value ? stop() : start(tool)),
  }
}
