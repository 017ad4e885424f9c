<script setup lang="ts">
/** What would mend the plan, tried as a ghost or kept; and what to stand ready under its risky steps. */
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { injectDraft } from '../ledger/useDraft'

const props = defineProps<{
  plan: Schemas['PlanView'] | undefined
  now: Schemas['Outlook']
  tried: string | null
}>()
const emit = defineEmits<{ try: [lever: Schemas['Lever'] | null]; keep: [lever: Schemas['Lever']] }>()
const draft = injectDraft()
const percent = (share: number) => Math.round(100 * share)
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
const levers = computed(() => props.plan?.levers?.levers ?? [])
const FIRST = 3
const all = ref(false)
const shown = computed(() => (all.value ? levers.value : levers.value.slice(0, FIRST)))
const backs = computed(() => props.plan?.fall_backs ?? [])
const mishaps = computed(() => props.plan?.mishaps ?? [])
const ready = computed(() => draft.recipe.value?.design.ready ?? [])
const stands = (b: Schemas['FallBack']) =>
  ready.value.some((r) => r.step === b.step && r.technique === b.technique)
/** Stood ready by hand earlier, and no longer among what is advised. */
const kept = computed(() =>
  ready.value.filter((r) => !backs.value.some((b) => b.step === r.step && b.technique === r.technique)),
)
function stand(b: Schemas['FallBack']) {
  draft.edit(`stand ${b.step}`, (d) => {
    const others = d.design.ready.filter((r) => r.step !== b.step)
    d.design.ready = stands(b)
      ? others
      : [...others, { step: b.step, technique: b.technique, trigger: b.trigger }]
  })
}
const drop = (r: Schemas['StandBy']) =>
  draft.edit(`drop ${r.step}`, (d) => {
    d.design.ready = d.design.ready.filter((x) => x.step !== r.step || x.technique !== r.technique)
  })
</script>

<template>
  <section aria-labelledby="levers">
    <div class="ledger-head">
      <h2 id="levers">Improve the odds</h2>
      <span class="note">as planned, now {{ percent(now.drawn) }} %</span>
    </div>
    <p v-if="!levers.length" class="py-1.5 text-sm text-quiet">
      {{ plan ? 'Nothing that is worth what it costs.' : 'Loading …' }}
    </p>
    <ol>
      <li
        v-for="l in shown"
        :key="l.key"
        class="row grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-x-3 py-1.5"
      >
        <span class="leading-tight">
          <b>{{ capital(l.name) }}</b>
          <span class="note block">{{ l.costs }}</span>
        </span>
        <span class="whitespace-nowrap"
          ><b class="fig text-xl">{{ percent(l.outlook.drawn) }}</b> %</span
        >
        <span class="flex gap-1.5">
          <button
            type="button"
            class="key"
            :class="tried === l.key ? 'border-dashed border-ink font-bold' : ''"
            :aria-pressed="tried === l.key"
            :aria-label="`${tried === l.key ? 'Trying' : 'Try'}: ${l.name}`"
            @click="emit('try', tried === l.key ? null : l)"
          >
            {{ tried === l.key ? 'Trying' : 'Try' }}
          </button>
          <button type="button" class="key key-main" :aria-label="`Use: ${l.name}`" @click="emit('keep', l)">
            Use
          </button>
        </span>
      </li>
    </ol>
    <button
      v-if="levers.length > FIRST"
      type="button"
      class="min-h-8 text-sm underline"
      :aria-expanded="all"
      @click="all = !all"
    >
      {{ all ? 'fewer' : `${levers.length - FIRST} more ways` }}
    </button>
    <template v-if="backs.length || kept.length || mishaps.length">
      <h3 class="pt-3 pb-0.5 font-semibold">If it fails all the same</h3>
      <ol class="border-t border-rule">
        <li v-for="b in backs" :key="b.step" class="row flex items-center gap-3 py-1.5">
          <span class="flex-1 leading-tight">
            <b>{{ b.name }}</b>, {{ b.trigger }}:
            <span class="fig"
              >{{ percent(b.going_on.drawn) }} % → <b>{{ percent(b.instead.drawn) }} %</b></span
            >
            <span class="note block">so it goes in {{ percent(b.often) }} batters of 100</span>
          </span>
          <button
            type="button"
            class="key"
            :class="stands(b) ? 'key-main' : ''"
            :aria-pressed="stands(b)"
            :aria-label="`${stands(b) ? 'Kept as backup' : 'Keep as backup'}: ${b.name}`"
            @click="stand(b)"
          >
            {{ stands(b) ? 'Kept as backup' : 'Keep as backup' }}
          </button>
        </li>
        <li v-for="h in mishaps" :key="h.key" class="row py-1.5 leading-tight">
          <b>{{ h.name }}</b> <span class="fig">{{ percent(h.odds) }} %</span>
          <span class="note block">{{ h.do }}</span>
        </li>
        <li v-for="r in kept" :key="r.step + r.technique" class="row flex items-center gap-3 py-1.5">
          <span class="flex-1 leading-tight">
            <b>{{ plan?.techniques.find((t) => t.technique === r.technique)?.name ?? r.technique }}</b>
            at “{{ r.step }}” <span class="note block">kept as backup; no longer likely to be wanted</span>
          </span>
          <button type="button" class="key key-main" aria-pressed="true" @click="drop(r)">
            Kept as backup
          </button>
        </li>
      </ol>
    </template>
  </section>
</template>
