<script setup lang="ts">
/** Colours of each portion: what was hoped, dashed, and what was seen, solid; a tap picks the colour seen. */
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import { useSwatchMoments } from './moments'

type Moment = Schemas['SwatchSeen']['at']
const props = defineProps<{ view: Schemas['RestView']; hours: number }>()
const moments = useSwatchMoments()
const emit = defineEmits<{ tap: [event: Record<string, unknown>] }>()
const seen = computed(() => {
  const out = new Map<string, string>()
  for (const s of props.view.swatches) out.set(`${s.portion ?? ''} ${s.at}`, s.tint)
  return out
})
const of = (portion: string, at: Moment) => seen.value.get(`${portion} ${at}`) ?? seen.value.get(` ${at}`)
const pick = (portion: string, at: Moment, change: Event) =>
  emit('tap', { kind: 'swatch', portion, at, tint: (change.target as HTMLInputElement).value })
</script>

<template>
  <section aria-labelledby="colours">
    <div class="ledger-head">
      <h2 id="colours">Colours</h2>
      <span class="note">solid seen, dashed hoped; tap one to pick what you see</span>
    </div>
    <div
      class="grid grid-cols-[minmax(4rem,1fr)_repeat(5,minmax(0,1fr))] items-center gap-x-2 gap-y-1.5 pt-1 text-sm"
    >
      <span />
      <span v-for="m in moments" :key="m.at" class="note">{{ m.words }}</span>
      <template v-for="p in view.portions" :key="p.name">
        <b class="truncate" :title="p.name">{{ p.name }}</b>
        <label
          v-for="m in moments"
          :key="m.at"
          class="block h-11 cursor-pointer rounded p-[3px] focus-within:outline-3"
          :class="
            of(p.name, m.at) ? 'border-[1.5px] border-ink p-0!' : 'border-[1.5px] border-dashed border-quiet'
          "
        >
          <span
            class="block h-full w-full rounded-sm"
            :style="{
              background: of(p.name, m.at) ?? p.tint ?? 'transparent',
              opacity: of(p.name, m.at) ? 1 : 0.75,
            }"
          />
          <input
            type="color"
            class="sr-only"
            :value="of(p.name, m.at) ?? p.tint ?? '#e7dcc4'"
            :aria-label="`Colour of ${p.name}, ${m.words}`"
            @change="pick(p.name, m.at, $event)"
          />
        </label>
      </template>
    </div>
  </section>
</template>
