<script lang="ts">
export type Tool = 'stick' | 'hand'
</script>

<script setup lang="ts">
/** The keys of the bench: five stages shaded like the batter, and what else a gloved hand does. */
import { inkOn, shade, STAGES, type Stage } from '../ribbon/batter'
import Trail from '../ribbon/Trail.vue'

defineProps<{ level: number; working: Tool | null; scent: boolean; canUndo: boolean }>()
const emit = defineEmits<{
  stage: [stage: Stage]
  workStart: [tool: Tool]
  workStop: []
  scent: []
  temperature: []
  wrong: []
  undo: []
}>()

const WORK = [
  { tool: 'stick', key: 'B', doing: 'blending', short: 'blend' },
  { tool: 'hand', key: 'W', doing: 'stirring', short: 'stir' },
] as const
</script>

<template>
  <div class="grid max-h-52 min-h-24 flex-1 grid-cols-5 gap-2.5 max-sm:gap-1.5">
    <button
      v-for="(s, i) in STAGES"
      :key="s"
      type="button"
      class="flex min-h-24 flex-col items-center justify-center gap-1 rounded-xl text-lg font-bold max-sm:text-sm"
      :class="level === i + 1 ? 'ring-4 ring-bone ring-offset-3 ring-offset-slate' : ''"
      :style="{ background: shade(i + 1), color: inkOn(i + 1) }"
      :aria-pressed="level === i + 1"
      @click="emit('stage', s)"
    >
      <Trail :stage="s" class="w-11 max-sm:w-8" />
      <span>{{ s }}</span>
      <kbd class="fig text-xs font-normal max-sm:hidden">{{ level === i + 1 ? 'still' : i + 1 }}</kbd>
    </button>
  </div>
  <div class="grid grid-cols-6 gap-2.5 max-sm:gap-1 max-sm:*:px-0! max-sm:*:text-[0.8rem]">
    <button
      v-for="w in WORK"
      :key="w.tool"
      type="button"
      class="bench-key touch-none select-none"
      :class="working === w.tool ? 'bg-bone! text-ink!' : ''"
      :aria-pressed="working === w.tool"
      @pointerdown.prevent="emit('workStart', w.tool)"
      @pointerup="emit('workStop')"
      @pointercancel="emit('workStop')"
      @pointerleave="emit('workStop')"
      @keydown.space.prevent="emit('workStart', w.tool)"
      @keyup.space.prevent="emit('workStop')"
      @contextmenu.prevent
    >
      <kbd class="bench-kbd max-sm:hidden">{{ w.key }}</kbd>
      <template v-if="working === w.tool">{{ w.doing }} …</template>
      <template v-else>
        <span class="max-sm:hidden">hold: {{ w.doing }}</span
        ><span class="sm:hidden">hold: {{ w.short }}</span>
      </template>
    </button>
    <button type="button" class="bench-key" :disabled="!scent" @click="emit('scent')">
      <kbd class="bench-kbd max-sm:hidden">F</kbd> scent in
    </button>
    <button type="button" class="bench-key" @click="emit('temperature')">
      <kbd class="bench-kbd max-sm:hidden">T</kbd> <span class="max-sm:hidden">temperature</span
      ><span class="sm:hidden">°C</span>
    </button>
    <button type="button" class="bench-key" @click="emit('wrong')">
      <kbd class="bench-kbd max-sm:hidden">R</kbd> ricing …
    </button>
    <button type="button" class="bench-key" :disabled="!canUndo" @click="emit('undo')">
      <kbd class="bench-kbd max-sm:hidden">U</kbd> undo
    </button>
  </div>
</template>
