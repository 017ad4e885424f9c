<script setup lang="ts">
/** What lies weighed for another weight than the recipe now asks: weighed anew, or the recipe follows. */
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import BenchDialog from '../bench/BenchDialog.vue'
import { onlyBench } from '../support/me'

/** What a later day weighs is of a pour that runs: no recipe follows it. */
defineProps<{ reweigh: Schemas['ReadyView']['reweigh']; later: boolean }>()
const emit = defineEmits<{ putAway: [key: string]; follow: [] }>()
const asking = ref(false)
</script>

<template>
  <section
    aria-label="Weighed for another weight"
    class="rounded-lg border-2 border-blush p-3"
    role="alert"
    data-test="reweigh"
  >
    <h2 class="text-lg font-bold text-blush">Weighed for another weight</h2>
    <div v-for="(r, n) in reweigh" :key="r.key" class="flex items-center gap-3 py-1">
      <p class="min-w-0 flex-1 leading-snug" :class="r.lye ? 'font-bold' : ''">
        {{ r.message }}
        <b v-if="r.does !== reweigh[n + 1]?.does" class="text-honey">{{ r.does }}</b>
      </p>
      <button type="button" class="bench-key min-h-11! px-3 text-base!" @click="emit('putAway', r.key)">
        put away
      </button>
    </div>
    <button v-if="!onlyBench() && !later" type="button" class="bench-key mt-1 w-full" @click="asking = true">
      Let the recipe follow what I weighed
    </button>
    <BenchDialog :open="asking" title="Let the recipe follow?" leave="No, weigh anew" @close="asking = false">
      <p class="pb-3 text-lg leading-snug">
        The recipe becomes what lies weighed, lye and fats as they are; everything else keeps its weight.
        Where that is too much lye it is not done.
      </p>
      <button type="button" class="bench-key w-full" @click="((asking = false), emit('follow'))">
        Follow what I weighed
      </button>
    </BenchDialog>
  </section>
</template>
