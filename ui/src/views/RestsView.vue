<script setup lang="ts">
/** Everything that rests or cures: what to touch next, the most pressing first. */
import { useQuery } from '@tanstack/vue-query'
import { useTimestamp } from '@vueuse/core'
import { computed } from 'vue'
import { api, orSoon, take } from '../api/client'
import CutFace from '../support/CutFace.vue'
import { due, whenWords } from '../support/when'
import { onlyBench } from '../support/me'
import { asked } from '../support/paper'

const { data, isPending, error } = useQuery({
  queryKey: ['rest', 'all'],
  queryFn: () => take(api.GET('/api/rest')),
  refetchInterval: orSoon(60_000),
})
const tick = useTimestamp({ interval: 20_000 })
const now = computed(() => new Date(tick.value))
const lines = computed(() =>
  (data.value?.lines ?? []).map((l) => {
    const ended = new Date(l.ended_at)
    const hours = (tick.value - ended.getTime()) / 3_600_000
    return { ...l, ended, hours, state: due(l.next, hours) }
  }),
)
const waiting = computed(() => lines.value.filter((l) => l.state !== 'later'))
const later = computed(() => lines.value.filter((l) => l.state === 'later'))
const parts = computed(() => [
  { title: 'Now', lines: waiting.value, none: 'Nothing waits for your hands today.' },
  { title: 'To come', lines: later.value, none: '' },
])
</script>

<template>
  <div class="mx-auto max-w-5xl px-6 py-5 max-sm:px-4">
    <div class="flex flex-wrap items-baseline gap-x-4">
      <h1 class="text-3xl font-bold">At rest</h1>
      <span v-if="lines.length" class="text-quiet"
        >{{ lines.length }} batches, {{ waiting.length }} of them wait for you</span
      >
      <RouterLink v-if="!onlyBench()" to="/calendar" class="underline">Calendar of batches</RouterLink>
      <a v-if="lines.length" :href="`/api/rest.ics?${asked()}`" class="ml-auto underline" download
        >All as a calendar file</a
      >
    </div>
    <p v-if="error" class="message pt-4" role="alert">{{ error.message }}</p>
    <p v-else-if="isPending" class="py-6" role="status">Reckoning what each waits for …</p>
    <p v-else-if="!lines.length" class="py-8 text-lg">
      Nothing rests or cures. A batch comes here when its pour has ended; open a
      <RouterLink to="/" class="underline">recipe</RouterLink> to begin one.
    </p>
    <section v-for="part in parts" :key="part.title" class="pt-4" :aria-label="part.title">
      <template v-if="part.lines.length || (part.none && lines.length)">
        <div class="ledger-head">
          <h2>{{ part.title }}</h2>
        </div>
        <p v-if="!part.lines.length" class="py-2 text-quiet">{{ part.none }}</p>
        <ol>
          <li v-for="l in part.lines" :key="l.id" class="row">
            <RouterLink
              :to="`/pours/${l.id}/rest`"
              class="grid grid-cols-[3.5rem_minmax(0,1fr)] items-center gap-x-4 py-1.5 hover:bg-chalk sm:grid-cols-[3.5rem_minmax(0,1.4fr)_minmax(0,1fr)]"
            >
              <CutFace :code="l.face" :width="56" />
              <span class="min-w-0">
                <b class="block text-lg leading-tight" :class="l.state === 'over' ? 'text-pot' : ''"
                  >{{ l.next.message }}
                  <span class="font-normal">{{ whenWords(l.next, l.ended, now) }}</span></b
                >
                <span class="block truncate text-quiet sm:hidden">{{ l.recipe }}</span>
                <span v-if="l.then" class="note block truncate"
                  >then {{ l.then.message[0]?.toLowerCase() }}{{ l.then.message.slice(1) }}
                  {{ whenWords(l.then, l.ended, now) }}</span
                >
              </span>
              <span class="truncate max-sm:hidden"
                >{{ l.recipe }}
                <span class="note block"
                  >day {{ Math.floor(l.hours / 24) + 1 }}, {{ l.cut ? 'cut' : 'not cut yet' }}</span
                ></span
              >
            </RouterLink>
          </li>
        </ol>
      </template>
    </section>
  </div>
</template>
