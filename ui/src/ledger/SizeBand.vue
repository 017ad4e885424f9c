<script setup lang="ts">
/** How much, and in how many colours: the mould by what it holds, the look, and one choice for the colours. */
import { RadioGroup, RadioGroupOption } from '@headlessui/vue'
import { computed } from 'vue'
import { injectDraft } from './useDraft'
import { dueWord } from '../support/when'
import CutFace from '../support/CutFace.vue'
import Swatch from '../support/Swatch.vue'

const open = defineModel<'' | 'mould' | 'more'>({ required: true })
const draft = injectDraft()
const size = computed(() => draft.weighed.value?.size ?? null)
const portions = computed(() => draft.recipe.value?.design.portions ?? [])
const face = computed(() => draft.foretold.value?.forecast?.faces.cut ?? '')
const count = computed(() => Math.min(portions.value.length, 3))
const TINTS = ['#c99a5b', '#f0e6d2', '#a4572f']
const tints = computed(() =>
  TINTS.map((tint, i) => draft.weighed.value?.ledger?.rows.find((r) => r.portion === i)?.tint ?? tint),
)
const COLOURS = [
  { count: 1, words: '1 colour' },
  { count: 2, words: '2' },
  { count: 3, words: '3+' },
] as const
/** What the brief wants, in short: how many bars, and by when. */
const wanted = computed(() => {
  const brief = draft.recipe.value?.brief
  return [
    ...(brief?.bars ? [`${brief.bars} bars wanted`] : []),
    ...(dueWord(brief, now) ? [dueWord(brief, now)] : []),
  ].join(', ')
})
const late = computed(() => draft.foretold.value?.dated?.met === 'late')
const now = new Date()
const toggle = (what: 'mould' | 'more') => (open.value = open.value === what ? '' : what)
const choose = (many: 1 | 2 | 3) => draft.adjust({ kind: 'set_colours', count: many })
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-4 gap-y-2 border-y border-rule py-1.5">
    <button
      type="button"
      class="flex min-h-11 items-center gap-3 text-left"
      data-test="size"
      :aria-expanded="open === 'mould'"
      @click="toggle('mould')"
    >
      <svg viewBox="0 0 56 36" class="w-14 shrink-0" aria-hidden="true">
        <path d="M10 10H54L46 18H2Z" fill="none" stroke="currentColor" stroke-width="2" />
        <path d="M2 18H46V34H2Z" fill="var(--color-pale)" stroke="currentColor" stroke-width="2" />
        <path d="M46 18L54 10V26L46 34" fill="none" stroke="currentColor" stroke-width="2" />
      </svg>
      <span class="border-b-2 border-dotted border-quiet text-lg font-bold">{{
        size?.mould ?? 'Mould'
      }}</span>
      <span aria-hidden="true">▾</span>
    </button>
    <span class="text-quiet"
      >{{ size?.bars }}<template v-if="size?.embeds">, {{ size.embeds }}</template></span
    >
    <button
      v-if="wanted"
      type="button"
      class="min-h-11 underline decoration-dotted"
      :class="late ? 'font-semibold text-iron' : ''"
      data-test="wanted"
      :aria-expanded="open === 'more'"
      @click="toggle('more')"
    >
      {{ wanted }}
    </button>
    <RouterLink
      v-if="face"
      :to="`/recipes/${draft.id}/plan`"
      class="ml-auto max-sm:hidden"
      aria-label="Plan: how it will look"
    >
      <CutFace :code="face" :width="64" class="h-12 w-16 rounded object-cover" />
    </RouterLink>
    <RadioGroup
      :model-value="count"
      class="flex overflow-hidden rounded-lg border border-rule"
      :class="face ? 'max-sm:ml-0' : 'ml-auto max-sm:ml-0'"
      aria-label="Colours"
      @update:model-value="choose"
    >
      <RadioGroupOption
        v-for="c in COLOURS"
        :key="c.count"
        v-slot="{ checked, active }"
        :value="c.count"
        as="template"
      >
        <button
          type="button"
          class="flex min-h-11 items-center gap-2 border-rule px-3.5 font-medium not-first:border-l"
          :class="[
            checked ? 'bg-ink font-bold text-chalk' : 'bg-chalk',
            active ? 'outline-3 -outline-offset-3' : '',
          ]"
        >
          <span class="flex -space-x-1.5">
            <Swatch v-for="(tint, i) in tints.slice(0, c.count)" :key="i" :tint="tint" class="w-5!" />
          </span>
          {{ c.words }}<span v-if="c.count > 1" class="sr-only"> colours</span>
        </button>
      </RadioGroupOption>
    </RadioGroup>
    <button type="button" class="key min-h-11!" :aria-expanded="open === 'more'" @click="toggle('more')">
      More ▾
    </button>
  </div>
</template>
