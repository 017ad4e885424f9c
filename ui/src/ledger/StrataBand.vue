<script setup lang="ts">
/** The fatty acids as layers of one band, and what they make of the bar. */
import { computed } from 'vue'
import { percent } from '../support/format'

const props = defineProps<{ strata: Record<string, number> }>()

const LAYERS = [
  {
    key: 'quick',
    name: 'Quick lather',
    fill: 'var(--color-lather)',
    ink: 'var(--color-slate)',
  },
  {
    key: 'hard',
    name: 'Hard',
    fill: 'var(--color-firm)',
    ink: 'var(--color-slate)',
  },
  {
    key: 'oleic',
    name: 'Mild',
    fill: 'var(--color-mild)',
    ink: 'var(--color-slate)',
  },
  {
    key: 'soft',
    name: 'Soft',
    fill: 'var(--color-soft)',
    ink: 'var(--color-bone)',
  },
  {
    key: 'castor',
    name: 'Foam',
    fill: 'var(--color-castor)',
    ink: 'var(--color-bone)',
  },
] as const

const layers = computed(() => {
  let at = 0
  return LAYERS.map((l) => {
    const share = props.strata[l.key] ?? 0
    const from = at
    at += share * 100
    return { ...l, share, from }
  }).filter((l) => l.share > 0.004)
})
</script>

<template>
  <section aria-label="Fatty acids">
    <svg viewBox="0 0 100 10" preserveAspectRatio="none" class="block h-4 w-full rounded" aria-hidden="true">
      <rect
        v-for="l in layers"
        :key="l.key"
        :x="l.from"
        y="0"
        :width="l.share * 100"
        height="10"
        :fill="l.fill"
      />
    </svg>
    <ul class="flex flex-wrap gap-x-4 gap-y-0.5 pt-1.5 text-[0.8125rem]">
      <li v-for="l in layers" :key="l.key">
        <svg viewBox="0 0 10 10" class="mr-1 inline-block w-2.5" aria-hidden="true">
          <rect width="10" height="10" rx="2" :fill="l.fill" />
        </svg>
        <span class="text-quiet">{{ l.name }}</span> <b class="fig">{{ percent(l.share, 0) }} %</b>
      </li>
    </ul>
  </section>
</template>
