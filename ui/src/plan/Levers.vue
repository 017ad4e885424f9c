<script setup lang="ts">
/** What would mend the plan, tried as a ghost or kept; and what to stand ready under its risky steps. */
import { computed } from 'vue'
import type { Schemas } from '../api/client'
import OutlookBar from '../forecast/OutlookBar.vue'
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
const backs = computed(() => props.plan?.fall_backs ?? [])
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
      <h2 id="levers">What would mend it</h2>
      <span class="note">as drawn, of 100</span>
    </div>
    <p v-if="plan && !levers.length" class="py-1.5 text-sm text-quiet">Nothing that is worth its cost.</p>
    <ol>
      <li
        v-for="l in levers.slice(0, 5)"
        :key="l.key"
        class="row grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-x-3 py-1.5"
      >
        <span class="leading-tight">
          <b>{{ capital(l.name) }}</b>
          <span class="note block">costs: {{ l.costs }}</span>
          <OutlookBar :outlook="l.outlook" class="mt-1" />
        </span>
        <span class="fig whitespace-nowrap"
          >{{ percent(now.drawn) }} → <b class="text-lg">{{ percent(l.outlook.drawn) }}</b></span
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
          <button type="button" class="key key-main" :aria-label="`Keep: ${l.name}`" @click="emit('keep', l)">
            Keep
          </button>
        </span>
      </li>
    </ol>
    <template v-if="backs.length || kept.length">
      <h3 class="pt-3 pb-0.5 font-semibold">If it fails all the same</h3>
      <ol class="border-t border-rule">
        <li v-for="b in backs" :key="b.step" class="row flex items-center gap-3 py-1.5">
          <span class="flex-1 leading-tight">
            <b>{{ b.name }}</b>, {{ b.trigger }}:
            <span class="fig"
              >{{ percent(b.going_on.drawn) }} → <b>{{ percent(b.instead.drawn) }}</b></span
            >
            <span class="note block">so it goes in {{ percent(b.often) }} batters of 100</span>
          </span>
          <button
            type="button"
            class="key"
            :class="stands(b) ? 'key-main' : ''"
            :aria-pressed="stands(b)"
            :aria-label="`${stands(b) ? 'Stands' : 'Stand'} ready: ${b.name}`"
            @click="stand(b)"
          >
            {{ stands(b) ? 'Stands ready' : 'Stand ready' }}
          </button>
        </li>
        <li v-for="r in kept" :key="r.step + r.technique" class="row flex items-center gap-3 py-1.5">
          <span class="flex-1 leading-tight">
            <b>{{ plan?.techniques.find((t) => t.technique === r.technique)?.name ?? r.technique }}</b>
            at “{{ r.step }}” <span class="note block">stands ready; no longer likely to be wanted</span>
          </span>
          <button type="button" class="key key-main" aria-pressed="true" @click="drop(r)">
            Stands ready
          </button>
        </li>
      </ol>
    </template>
  </section>
</template>
