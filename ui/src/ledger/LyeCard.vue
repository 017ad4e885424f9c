<script setup lang="ts">
/** Lye and water, and the gravest thing to be said of them, in one card that does not scroll away. */
import { computed, ref } from 'vue'
import type { Caution, Line } from '../api/client'
import MendKeys from '../fields/MendKeys.vue'
import Message from '../fields/Message.vue'
import { percent } from '../support/format'
import Told from '../support/Told.vue'
import AdditiveRows from './AdditiveRows.vue'
import LiquidRows from './LiquidRows.vue'
import LyeSettings from './LyeSettings.vue'
import SuperfatSpan from './SuperfatSpan.vue'
import { injectDraft } from './useDraft'
import VesselAdd from './VesselAdd.vue'

const props = defineProps<{ lines: Line[] }>()
const draft = injectDraft()
const open = ref(false)
const all = ref(false)
const sheet = draft.sheet
/** Whether what is stirred in moves the superfat by enough to be told. */
const counted = computed(
  () => !!sheet.value && Math.abs(sheet.value.superfat.with_liquids - sheet.value.superfat.set) > 0.005,
)
const heat = computed(() => (sheet.value ? draft.weighed.value?.heat : null))

type OnScale = Pick<Line, 'key' | 'name' | 'shown' | 'also' | 'item'>
const onScale = (kinds: Line['kind'][], instead: string): OnScale[] => {
  const found = props.lines.filter((l) => kinds.includes(l.kind))
  return found.length ? found : [{ key: instead, name: instead, shown: '—', also: '', item: '' }]
}
const alkalis = computed(() => onScale(['alkali', 'stock'], 'Sodium hydroxide'))
const waters = computed(() => onScale(['water', 'ice'], 'Water'))

/** What is said at a row of its own stands there. */
const AT_ROWS = /^\/(fats|liquids|additives|scents)\//
const gravest = computed(() => draft.weighed.value?.gravest ?? [])
const harm = computed(() => gravest.value.some((c) => c.danger || c.pointer === '/lye'))
const others = computed<Caution[]>(() =>
  [...(draft.weighed.value?.weighing.cautions ?? []), ...(heat.value?.cautions ?? [])].filter(
    (c) => !AT_ROWS.test(c.pointer) && !gravest.value.some((g) => g.message === c.message),
  ),
)
/** What is wrong in a field of the lye stands at that field, where it can be seen. */
const AT_FIELDS = /^\/(water|superfat|naoh_purity|koh|ice|stock|feed_acids)/
const elsewhere = (pointer: string) =>
  AT_ROWS.test(pointer) || (open.value && AT_FIELDS.test(pointer)) || ['/fats', '/name', ''].includes(pointer)
/** Faults that stand nowhere else: of the design, the size, the lye. */
const faults = computed(() =>
  (draft.weighed.value?.weighing.faults ?? []).filter((f) => !elsewhere(f.pointer)),
)
const rowFault = computed(
  () => !faults.value.length && (draft.weighed.value?.weighing.faults ?? []).some((f) => !f.open),
)
</script>

<template>
  <section
    class="border border-t-4 border-rule border-t-jug bg-chalk px-4 pt-2 pb-3 [--hue:var(--color-jug)] rounded-b-lg"
    aria-labelledby="jug"
  >
    <h2 id="jug" class="flex items-center gap-2.5 text-lg font-bold">
      <svg viewBox="0 0 28 26" class="w-7 text-jug" aria-hidden="true">
        <path d="M4 12H20V21Q20 24 17 24H7Q4 24 4 21Z" fill="currentColor" fill-opacity=".3" />
        <path
          d="M2 3Q4 3 4 6V21Q4 24 7 24H17Q20 24 20 21V3M20 7Q26 7 26 12T20 17"
          fill="none"
          stroke="currentColor"
          stroke-width="2.2"
        />
      </svg>
      Lye and water
    </h2>
    <div :class="draft.stale.value ? 'stale' : ''">
      <div v-for="l in alkalis" :key="l.key" class="row flex items-center justify-between gap-3 py-0.5">
        <span class="leading-tight font-bold"
          >{{ l.name }}<span v-if="l.also" class="note block font-normal">{{ l.also }}</span></span
        >
        <span
          class="fig text-4xl leading-12 font-bold whitespace-nowrap"
          :data-test="l.item === 'alkali:koh' ? 'koh' : 'lye'"
          ><Told :text="l.shown" unit-class="text-2xl"
        /></span>
      </div>
      <div v-for="l in waters" :key="l.key" class="row flex items-center justify-between gap-3 py-0.5">
        <span class="font-bold">{{ l.name }}</span>
        <span class="fig text-4xl leading-12 font-bold whitespace-nowrap"
          ><Told :text="l.shown" unit-class="text-2xl"
        /></span>
      </div>
    </div>
    <LiquidRows vessel="jug" :lines="lines" />
    <AdditiveRows vessel="jug" :lines="lines" />
    <p
      v-if="!faults.length && gravest.length"
      class="mt-2.5 border-l-6 pl-3 leading-snug font-bold"
      :class="harm ? 'border-iron' : 'border-pot'"
      role="status"
      data-test="gravest"
    >
      <span v-for="c in gravest" :key="c.message" class="block pb-1"
        >{{ c.message }} <MendKeys :mends="c.mends" @mend="draft.mend"
      /></span>
      <button
        v-if="others.length"
        type="button"
        class="block text-sm font-normal underline"
        :aria-expanded="all"
        @click="all = !all"
      >
        {{ all ? 'less' : `${others.length} more` }}
      </button>
    </p>
    <div v-else-if="faults.length" class="mt-2.5 border-l-6 border-iron pl-3" data-test="gravest">
      <Message :faults="faults" @mend="draft.mend" />
    </div>
    <p v-if="rowFault" class="note pt-1">
      Something is wrong where it is marked: weights follow once it is mended.
    </p>
    <Message v-if="all" class="pl-4.5" :cautions="others" @mend="draft.mend" />
    <template v-if="sheet">
      <p class="flex flex-wrap items-baseline justify-between gap-x-3 pt-2.5">
        <span class="font-bold"
          >Superfat <b class="fig text-xl">{{ percent(sheet.superfat.set) }}</b>&nbsp;<span class="unit"
            >%</span
          ></span
        >
        <span class="text-sm text-quiet"
          >likely {{ percent(sheet.superfat.likely.low) }}–{{ percent(sheet.superfat.likely.high) }} %</span
        >
      </p>
      <SuperfatSpan :superfat="sheet.superfat" />
      <p v-if="counted" class="text-sm text-quiet">
        With milk, acids and dispersing oils it is {{ percent(sheet.superfat.with_liquids) }} %.
      </p>
    </template>
    <div v-if="open" class="border-l-4 border-jug pl-3">
      <LyeSettings :sheet="sheet" />
      <p v-if="heat" class="pt-1.5 text-sm">{{ heat.advice }}</p>
      <VesselAdd vessel="jug" />
    </div>
    <button type="button" class="key mt-2.5 min-h-11! w-full" :aria-expanded="open" @click="open = !open">
      {{ open ? 'Close' : 'Change lye, water, superfat' }}
    </button>
  </section>
</template>
