<script setup lang="ts">
/** Which portion the keys speak of, what waits for an answer, and in practice what the eye sees of it. */
import type { Schemas } from '../api/client'
import { STAGES, type Stage } from '../ribbon/batter'
import Trail from '../ribbon/Trail.vue'
import Swatch from '../support/Swatch.vue'

defineProps<{
  tint: string | null
  where: string
  doubts: number
  sight?: Schemas['Sights']['seen'][number]
}>()
const emit = defineEmits<{ answer: [] }>()
</script>

<template>
  <div class="flex min-h-7 items-center gap-3 max-sm:min-h-6">
    <Swatch v-if="tint" :tint="tint" class="w-6! stroke-bone" />
    <h2 class="min-w-0 truncate text-xl font-bold max-sm:text-base" :title="where">{{ where }} is now …</h2>
    <button
      v-if="doubts"
      type="button"
      class="ml-auto min-h-7 shrink-0 font-semibold whitespace-nowrap text-blush underline"
      data-test="to-answer"
      @click="emit('answer')"
    >
      {{ doubts }} to answer
    </button>
  </div>
  <p v-if="sight" class="flex min-w-0 items-center gap-2 text-lg max-sm:text-sm" data-test="sight">
    <Trail v-if="sight.stage" :stage="STAGES[sight.stage - 1] as Stage" class="w-9 shrink-0 text-dew" />
    <span class="truncate">you see {{ sight.words }}</span>
  </p>
</template>
