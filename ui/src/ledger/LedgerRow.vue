<script setup lang="ts">
/** One thing in a vessel: its name, what the scale shows, and its dose. Touched, it opens; there it is also taken out. */
import { computed, ref } from 'vue'
import type { Line } from '../api/client'
import { injectDraft } from './useDraft'
import Message from '../fields/Message.vue'
import { minutes, signed } from '../support/format'
import Swatch from '../support/Swatch.vue'
import Told from '../support/Told.vue'

/** `pointer` is the row's figure in the recipe: what is wrong with it is said below, across the whole row. `tints` are
    the portions it goes into, where that is not all there is; `shown` what all of it weighs, where that is not one line. */
const props = withDefaults(
  defineProps<{ name: string; line?: Line; shown?: string; pointer: string; tints?: readonly string[] }>(),
  {
    line: undefined,
    shown: undefined,
    tints: () => [],
  },
)
const draft = injectDraft()
/** How much sooner or later it brings medium trace, where that is worth a word. */
const effect = computed(() => {
  const told = draft.foretold.value?.reasons
  const row = props.pointer.split('/').slice(0, 3).join('/')
  const found = told?.reasons.find((r) => r.row === row)
  return told && found
    ? {
        text: `${signed(found.minutes)} min`,
        title: `to medium trace in ${told.portion}, give or take ${minutes(found.spread)} min`,
      }
    : null
})
const emit = defineEmits<{ out: [] }>()
const open = ref(false)
const SHOWN = 4 // pebbles before they are counted
</script>

<template>
  <div class="ledger-row">
    <button
      type="button"
      class="min-w-0 py-1.5 text-left leading-tight text-balance hover:underline"
      :aria-expanded="open"
      aria-keyshortcuts="Alt+ArrowLeft Alt+ArrowRight"
      @click="open = !open"
    >
      {{ name }}
      <span v-if="effect" class="note fig whitespace-nowrap" :title="effect.title">{{ effect.text }}</span>
      <span v-if="tints.length" class="ml-1 inline-flex -space-x-1 align-middle">
        <Swatch v-for="(tint, i) in tints.slice(0, SHOWN)" :key="i" :tint="tint" class="w-4.5!" />
        <span v-if="tints.length > SHOWN" class="note pl-2">+{{ tints.length - SHOWN }}</span>
      </span>
    </button>
    <slot name="weight">
      <span class="fig pt-1 text-right text-lg leading-snug font-bold" data-test="weight">
        <Told :text="shown ?? line?.shown ?? '—'" unit-class="text-base" />
      </span>
    </slot>
    <span class="justify-self-end pt-1"><slot /></span>
  </div>
  <div
    v-if="open"
    class="mb-1.5 flex flex-wrap items-baseline gap-x-4 gap-y-1.5 border-l-4 border-(--hue) bg-chalk px-3 py-2 text-sm"
  >
    <slot name="more" />
    <button
      type="button"
      class="ml-auto font-medium underline"
      :aria-label="`Take out ${name}`"
      @click="emit('out')"
    >
      Take out
    </button>
  </div>
  <Message
    :id="`message-${pointer}`"
    class="pb-1.5"
    :faults="draft.faultsAt(pointer)"
    :cautions="draft.cautionsAt(pointer)"
    @mend="draft.mend"
  />
</template>
