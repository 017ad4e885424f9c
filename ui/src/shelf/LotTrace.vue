<script setup lang="ts">
/** Which batches have a lot in them, for a recall or a complaint. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '../api/client'
import { day } from '../support/format'
import { weight } from '../support/quantity'
import Told from '../support/Told.vue'

const props = defineProps<{ id: string; name: string }>()
const emit = defineEmits<{ close: [] }>()
const { data, error } = useQuery({
  queryKey: computed(() => ['stock', 'batches', props.id]),
  queryFn: () => take(api.GET('/api/stock/{lot_id}/batches', { params: { path: { lot_id: props.id } } })),
  staleTime: 0,
})
const told = (d: { all_batches: number; bars: number; uncounted: number }) =>
  [
    many(d.all_batches),
    ...(d.bars ? [`${d.bars} bars`] : []),
    ...(d.uncounted ? [`the bars of ${many(d.uncounted)} not counted`] : []),
  ].join(', ')
const many = (n: number) => `${n} batch${n > 1 ? 'es' : ''}`
</script>

<template>
  <section class="mt-3 border-l-4 border-ink bg-chalk px-5 py-3" aria-labelledby="traced">
    <h2 id="traced" class="font-bold">
      {{ name }}:
      <template v-if="data">{{ data.all_batches ? told(data) : 'in no batch yet' }}</template>
      <template v-else-if="!error">loading …</template>
    </h2>
    <p v-if="error" class="message" role="alert">{{ error.message }}</p>
    <ul>
      <li v-for="b in data?.batches" :key="b.pour" class="flex flex-wrap items-baseline gap-x-4">
        <b class="fig w-28">{{ b.batch }}</b>
        <RouterLink :to="`/pours/${b.pour}/rest`" class="underline">{{ b.recipe }}</RouterLink>
        <span class="text-quiet"
          >{{ day(b.started) }}, {{ b.bars ? `${b.bars} bars` : 'bars not counted' }},
          <Told :text="weight(b.grams)" /> of it</span
        >
      </li>
    </ul>
    <p v-if="data && data.all_batches > data.batches.length" class="note">
      The last {{ data.batches.length }} of them.
    </p>
    <p class="note">As far as your counts tell, used by date; also through what was made here of it.</p>
    <button type="button" class="min-h-8 text-sm underline" @click="emit('close')">close</button>
  </section>
</template>
