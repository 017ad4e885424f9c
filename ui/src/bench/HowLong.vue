<script setup lang="ts">
/** How long was it blended or stirred, and what for: asked afterwards, or begun now and stopped on the same key. */
import { computed, ref, watch } from 'vue'
import BenchDialog from './BenchDialog.vue'
import type { Tool } from './BenchKeys.vue'
import type { Purpose } from './usePour'

const props = defineProps<{ tool: Tool | null; where: string }>()
const emit = defineEmits<{
  close: []
  worked: [tool: Tool, seconds: number, purpose: Purpose]
  start: [tool: Tool]
}>()
const SECONDS = [5, 10, 20, 30, 60, 120]
const purpose = ref<Purpose>('mix')
watch(
  () => props.tool,
  () => (purpose.value = 'mix'),
)
const verb = computed(() => (props.tool === 'hand' ? 'Stirred' : 'Blended'))
const WHY: Record<Purpose, string> = { mix: 'to mix', thicken: 'to thicken it', loosen: 'to loosen it' }
</script>

<template>
  <BenchDialog
    :open="tool !== null"
    :title="`${verb} ${where}: about how long?`"
    leave="Not at all"
    @close="emit('close')"
  >
    <div class="grid grid-cols-3 gap-3">
      <button
        v-for="s in SECONDS"
        :key="s"
        type="button"
        class="bench-key text-2xl!"
        @click="tool && emit('worked', tool, s, purpose)"
      >
        {{ s < 60 ? `${s} s` : `${s / 60} min` }}
      </button>
    </div>
    <div class="grid grid-cols-3 gap-3 pt-3" role="radiogroup" aria-label="What for">
      <button
        v-for="(words, key) in WHY"
        :key="key"
        type="button"
        role="radio"
        class="bench-key"
        :class="purpose === key ? 'bg-bone! text-ink!' : ''"
        :aria-checked="purpose === key"
        @click="purpose = key"
      >
        {{ words }}
      </button>
    </div>
    <button type="button" class="bench-main mt-3 w-full" @click="tool && emit('start', tool)">
      Not yet: start the clock, stop on the same key
    </button>
  </BenchDialog>
</template>
