<script setup lang="ts">
/** After practice: what it was, what came of it, what was said when, and which choice would have kept more. */
import { useQuery } from '@tanstack/vue-query'
import { api, take, type PourView } from '../api/client'
import { clock } from '../support/format'
import CutFace from '../support/CutFace.vue'

const props = defineProps<{ id: string; view: PourView }>()
const { data, error } = useQuery({
  queryKey: ['debrief', props.id, props.view.events.length],
  queryFn: () =>
    take(api.GET('/api/practice/{practice_id}/debrief', { params: { path: { practice_id: props.id } } })),
  retry: false,
})
const hundred = (share: number) => Math.round(100 * share)
</script>

<template>
  <p v-if="error" class="text-blush" role="alert">{{ error.message }}</p>
  <section v-else-if="data" class="border-t border-slab pt-3" aria-label="Debrief" data-test="debrief">
    <div class="grid gap-x-7 gap-y-3 md:grid-cols-[240px_minmax(0,1fr)]">
      <figure>
        <CutFace
          :code="data.faces.cut"
          :width="240"
          class="rounded"
          :message="`The cut face: ${data.technique}`"
        />
        <figcaption class="pt-1 text-sm text-mist">
          {{ data.technique.toLowerCase()
          }}<template v-if="data.technique !== data.meant"
            >, drawn as {{ data.meant.toLowerCase() }}</template
          >
        </figcaption>
      </figure>
      <div>
        <h2 class="text-2xl font-bold">{{ data.message }}</h2>
        <p class="pt-1 text-lg">{{ data.lesson }}</p>
        <p class="pt-1 text-mist">
          In truth {{ hundred(data.drawn) }} % of it came as planned, and {{ hundred(data.lost) }} % of the
          batter was lost.
        </p>
        <h3 class="pt-3 font-bold">What was said when</h3>
        <ol class="pt-1">
          <li
            v-for="t in data.told"
            :key="t.minute"
            class="grid grid-cols-[3.5rem_10rem_4rem_minmax(0,1fr)] gap-x-3 border-b border-slab py-0.5 max-sm:grid-cols-[3.2rem_minmax(0,1fr)_3rem]"
          >
            <span class="fig">{{ clock(t.minute) }}</span>
            <span class="truncate text-mist max-sm:hidden" :title="t.after">{{ t.after }}</span>
            <span class="text-right max-sm:order-last"
              >{{ hundred(t.drawn) }}<span class="text-mist"> %</span></span
            >
            <span class="min-w-0 truncate" :title="t.headline">{{ t.headline }}</span>
          </li>
        </ol>
        <p class="pt-1 text-sm text-mist">
          per cent: the odds of coming as planned, as told then. A practice batter teaches nothing and leaves
          no pour.
        </p>
      </div>
    </div>
  </section>
</template>
