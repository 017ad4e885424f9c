<script setup lang="ts">
/** The stages of the work, in the order of hands: where one is, what is ready, and what is still to be done. */
import { nextTick, ref, watch } from 'vue'
import type { Schemas } from '../api/client'

const props = defineProps<{ stages: Schemas['ReadyStage'][]; at: number }>()
const list = ref<HTMLElement | null>(null)
watch(
  () => props.at,
  async (at) => {
    await nextTick()
    const key = list.value?.children[at] as HTMLElement | undefined
    if (list.value && key) list.value.scrollTo({ left: key.offsetLeft - list.value.offsetLeft - 16 })
  },
)
const emit = defineEmits<{ go: [stage: number] }>()
</script>

<template>
  <nav ref="list" aria-label="Stages" class="flex gap-2 max-md:overflow-x-auto md:flex-col">
    <button
      v-for="(s, n) in stages"
      :key="s.title"
      type="button"
      class="flex items-center gap-3 rounded-xl border-2 px-4 py-2 text-left leading-tight max-md:shrink-0 max-md:px-3"
      :class="n === at ? 'border-bone bg-steel' : 'border-transparent bg-well'"
      :aria-current="n === at ? 'step' : undefined"
      @click="emit('go', n)"
    >
      <b class="fig w-5 text-xl" :class="s.done ? 'text-mist' : ''">{{ s.done ? '✓' : n + 1 }}</b>
      <span class="whitespace-nowrap">
        <b class="block text-lg max-md:text-base" :class="s.done ? 'text-mist' : ''">{{ s.title }}</b>
        <span v-if="s.told" class="block text-sm text-mist">{{ s.told }}</span>
      </span>
    </button>
  </nav>
</template>
