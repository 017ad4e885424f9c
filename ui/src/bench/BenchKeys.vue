<script lang="ts">
export type Tool = 'stick' | 'hand'
/** What the bench can ask: what its keys are for, and what stands behind its head and its notes. */
export type Ask = Tool | 'scent' | 'celsius' | 'wrong' | 'more' | 'log' | 'doubts' | 'why'
</script>

<script setup lang="ts">
/** The keys of the bench: five stages shaded like the batter, and what else a gloved hand does. */
import { computed } from 'vue'
import { inkOn, shade, STAGES, type Stage } from '../ribbon/batter'
import Trail from '../ribbon/Trail.vue'
import { clock } from '../support/format'
import { ownUnit } from '../support/quantity'

const props = defineProps<{
  level: number
  seen: string
  working: { tool: Tool; seconds: number } | null
  scent: string | null
  celsius: string
}>()
const emit = defineEmits<{ stage: [stage: Stage]; ask: [what: Ask]; stop: [] }>()

const tiles = computed(() => [
  { ask: 'stick' as const, key: 'B', words: 'blended …', short: 'blended', under: 'start, or how long' },
  { ask: 'hand' as const, key: 'W', words: 'stirred …', short: 'stirred', under: 'start, or how long' },
  { ask: 'scent' as const, key: 'F', words: 'scent in …', short: 'scent', under: props.scent ?? 'no scent' },
  { ask: 'celsius' as const, key: 'T', words: 'temperature', short: ownUnit('°C'), under: props.celsius },
  { ask: 'wrong' as const, key: 'R', words: 'ricing, seized …', short: 'ricing …', under: 'what to do' },
  { ask: 'more' as const, key: 'M', words: 'more …', short: 'more …', under: 'steps, layer, notes' },
])
const busy = (ask: Ask) => props.working?.tool === ask
</script>

<template>
  <div class="grid min-h-16 flex-1 grid-cols-5 gap-2 max-sm:max-h-28 max-sm:gap-1.5 sm:max-h-44">
    <button
      v-for="(s, i) in STAGES"
      :key="s"
      type="button"
      class="flex min-h-16 flex-col items-center justify-center gap-0.5 rounded-xl text-lg font-bold max-lg:text-[0.9rem] max-[22rem]:text-[0.72rem]"
      :class="level === i + 1 ? 'ring-4 ring-bone ring-offset-2 ring-offset-slate' : ''"
      :style="{ background: shade(i + 1), color: inkOn(i + 1) }"
      :aria-pressed="level === i + 1"
      @click="emit('stage', s)"
    >
      <Trail :stage="s" class="w-11 max-lg:w-9 max-sm:w-8" />
      <span>{{ s }}</span>
      <span class="text-xs font-normal"
        ><template v-if="level === i + 1">{{ seen || 'still' }}</template
        ><kbd v-else class="fig max-sm:hidden">{{ i + 1 }}</kbd></span
      >
    </button>
  </div>
  <div class="grid grid-cols-3 gap-2 max-sm:grid-cols-6 max-sm:gap-1">
    <button
      v-for="t in tiles"
      :key="t.ask"
      type="button"
      class="bench-key flex-col! gap-0! leading-tight! max-lg:px-1! max-sm:px-0! max-sm:text-[0.8rem]!"
      :class="busy(t.ask) ? 'bg-bone! text-ink!' : ''"
      :aria-pressed="busy(t.ask)"
      :disabled="t.ask === 'scent' && scent === null"
      @click="busy(t.ask) ? emit('stop') : emit('ask', t.ask)"
    >
      <template v-if="busy(t.ask) && working">
        <span>{{ working.tool === 'stick' ? 'blending' : 'stirring' }}</span>
        <span class="fig">{{ clock(working.seconds / 60) }} stop</span>
      </template>
      <template v-else>
        <span class="max-sm:hidden">{{ t.words }}</span><span class="sm:hidden">{{ t.short }}</span>
        <span class="line-clamp-1 text-sm font-normal text-mist max-sm:hidden"
          ><kbd class="fig text-xs">{{ t.key }}</kbd> · {{ t.under }}</span
        >
      </template>
    </button>
  </div>
</template>
