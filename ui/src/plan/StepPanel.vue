<script setup lang="ts">
/** One step, opened in place: what it wants, how long it takes these hands, of what, and whether it can be left out. */
import { computed } from 'vue'
import type { Act, Schemas, StepForecast } from '../api/client'
import { useShelf } from '../api/queries'
import Choose from '../fields/Choose.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'
import { injectDraft } from '../ledger/useDraft'
import { minutes, number } from '../support/format'

const props = defineProps<{
  step: StepForecast
  spelled: Schemas['Recipe']['design']['steps'][number]
  asks: Schemas['Asks'] | null
  row: number
}>()
const emit = defineEmits<{ close: []; gone: []; move: [to: number] }>()
const draft = injectDraft()
const { data: shelf } = useShelf()
const LAID = ['layer', 'pour'] // on what lies below
type Step = typeof props.spelled
type Look = Extract<Step, { band?: unknown }>

const names = computed(() => draft.recipe.value?.design.portions.map((p) => p.name) ?? [])
const look = computed(() =>
  props.step.weight > 0 || 'band' in props.spelled ? (props.spelled as Look) : null,
)
const who = computed(() => ('who' in props.spelled ? (props.spelled.who ?? []) : null))
const preps = computed(() => ['colour', 'scent'].includes(props.spelled.do))

function change(changes: Record<string, unknown>) {
  const { row, spelled } = props
  // On the step as it is by then: two changes in a row are both made.
  void draft.adjust(
    (of) => ({ kind: 'change_step', row, step: { ...(of.design.steps[row] ?? spelled), ...changes } }) as Act,
  )
}
function toggle(name: string) {
  const now = who.value ?? []
  const next = now.includes(name) ? now.filter((n) => n !== name) : [...now, name]
  if (next.length || !preps.value) change({ who: names.value.filter((n) => next.includes(n)) })
}
/** What can be asked, in words, by what is sent. */
const words = computed(() => shelf.value?.steps)
const stages = computed(() =>
  Object.fromEntries((words.value?.stages ?? []).map((s, i) => [String(i + 1), s])),
)
const byLevel = (choices: readonly Schemas['LevelWords'][] = []) =>
  Object.fromEntries(choices.map((c) => [String(c.level), c.words]))
const stirred = computed(() => (words.value?.stirred ?? {}) as Record<'hand' | 'stick', string>)
const percent = (share: number) => Math.round(100 * share)
/** What is turned to if this step fails: chosen freely, beside what is advised. */
const backup = computed(
  () => draft.recipe.value?.design.ready.find((r) => r.step === props.step.key)?.technique ?? '',
)
const ways = computed(() => ({
  '': 'nothing',
  ...Object.fromEntries((shelf.value?.techniques ?? []).map((t) => [t.id, t.name.toLowerCase()])),
}))
function stand(technique: string) {
  const { key } = props.step
  draft.edit(`stand ${key}`, (d) => {
    const others = d.design.ready.filter((r) => r.step !== key)
    d.design.ready = technique ? [...others, { step: key, technique, trigger: '' }] : others
  })
}
const textures = computed(() => Object.fromEntries((words.value?.textures ?? []).map((t) => [t, t])))
const want = (thinnest: number, thickest: number) =>
  draft.adjust({ kind: 'want_stages', row: props.row, thinnest, thickest })
</script>

<template>
  <section
    class="relative mt-2 border-y-3 border-ink bg-chalk px-4 py-2.5"
    :aria-label="`Step: ${step.label}`"
    @keydown.esc="emit('close')"
  >
    <div class="flex flex-wrap items-center gap-x-6 gap-y-2">
      <h2 class="text-lg font-bold">{{ step.label.charAt(0).toUpperCase() + step.label.slice(1) }}</h2>
      <span class="flex items-baseline gap-2">
        <NumberField
          :model-value="Math.round(20 * (spelled.minutes ?? step.takes.q50)) / 20"
          label="minutes"
          unit="min"
          hide-label
          width="w-12"
          :step="0.5"
          lazy
          @update:model-value="(m) => draft.adjust({ kind: 'time_step', row, minutes: m, times: null })"
        />
        <span class="note"
          >in your hands about {{ minutes(step.takes.q50) }} min ({{ minutes(step.takes.q10) }} to
          {{ minutes(step.takes.q90) }})</span
        >
      </span>
      <span v-if="who" class="flex flex-wrap gap-1" role="group" aria-label="Portions in this step">
        <button
          v-for="name in names"
          :key="name"
          type="button"
          class="key px-2 py-0.5 text-sm"
          :class="who.includes(name) ? 'key-main' : ''"
          :aria-pressed="who.includes(name)"
          @click="toggle(name)"
        >
          {{ name || 'no name' }}
        </button>
      </span>
      <Choose
        v-if="preps"
        :model-value="(spelled as { by?: 'hand' | 'stick' }).by ?? 'hand'"
        :options="stirred"
        label="How it is stirred in"
        @update:model-value="(by) => change({ by })"
      />
      <Choose
        v-if="spelled.do === 'pass' && words && (spelled.note ?? '') in words.tools"
        :model-value="spelled.note ?? ''"
        :options="words.tools"
        label="Tool"
        @update:model-value="(note) => change({ note })"
      />
      <TextField
        v-else-if="spelled.do === 'pass' || spelled.do === 'wait'"
        class="w-56"
        lazy
        :model-value="spelled.note ?? ''"
        label="What is done in this step"
        placeholder="turn the mould, say"
        @update:model-value="(note) => change({ note })"
      />
      <span class="ml-auto flex gap-2">
        <button
          type="button"
          class="key"
          :disabled="row === 0"
          aria-label="Earlier"
          @click="emit('move', row - 1)"
        >
          ← earlier
        </button>
        <button type="button" class="key" aria-label="Later" @click="emit('move', row + 1)">later →</button>
        <button
          v-if="step.do !== 'combine'"
          type="button"
          class="key"
          @click="(draft.adjust({ kind: 'take_step', row }), emit('gone'))"
        >
          Take out
        </button>
        <button type="button" class="key key-main" @click="emit('close')">Done</button>
      </span>
    </div>
    <div v-if="look && asks" class="flex flex-wrap items-center gap-x-6 gap-y-2 pt-2 text-sm">
      <span class="flex items-center gap-1.5">
        wants
        <Choose
          :model-value="String(asks.thinnest)"
          :options="stages"
          label="Thinnest it may be"
          @update:model-value="(v) => want(Number(v), asks!.thickest)"
        />
        to
        <Choose
          :model-value="String(asks.thickest)"
          :options="stages"
          label="Thickest it may be"
          @update:model-value="(v) => want(asks!.thinnest, Number(v))"
        />
      </span>
      <span v-if="look.part != null && who?.length" class="flex items-baseline gap-1.5">
        uses
        <NumberField
          :model-value="look.part"
          label="Share of the portion it uses"
          hide-label
          unit="%"
          :scale="100"
          width="w-12"
          lazy
          @update:model-value="(part) => change({ part: Math.min(Math.max(part, 0), 1) })"
        />
        of it
      </span>
      <label v-if="LAID.includes(step.do)" class="flex items-center gap-1.5">
        on what is below
        <Choose
          :model-value="String(asks.gate)"
          :options="byLevel(words?.gates)"
          label="When what is below is ready"
          @update:model-value="(g) => change({ gate: Number(g) })"
        />
      </label>
      <Choose
        v-if="who?.length"
        :model-value="String(asks.thickened)"
        :options="byLevel(words?.thickened)"
        label="Thickened on purpose"
        @update:model-value="(v) => change({ to: Number(v) })"
      />
      <label class="flex items-baseline gap-1.5">
        waits at most
        <NumberField
          :model-value="look.wait ?? 0"
          label="Longest wait for the batter"
          hide-label
          unit="min"
          width="w-12"
          lazy
          @update:model-value="(wait) => change({ wait })"
        />
      </label>
      <label class="flex items-center gap-1.5">
        <input
          type="checkbox"
          class="size-4 accent-ink"
          :checked="step.may_skip"
          @change="change({ skip: ($event.target as HTMLInputElement).checked })"
        />
        may be left out
      </label>
      <label class="flex items-center gap-1.5">
        backup
        <Choose
          class="max-w-44"
          :model-value="backup"
          :options="ways"
          label="What to turn to if this step fails"
          @update:model-value="stand"
        />
      </label>
      <Choose
        v-if="spelled.do === 'top'"
        :model-value="(spelled as { texture?: string }).texture ?? 'as poured'"
        :options="textures"
        label="What is made of the top"
        @update:model-value="(texture) => change({ texture })"
      />
      <span class="text-quiet">
        as planned {{ percent(step.odds) }} %, too thick {{ percent(step.too_thick) }} %, too thin
        {{ percent(step.too_thin) }} %<template v-if="step.too_late >= 0.005"
          >, what it lies on not standing {{ percent(step.too_late) }} %</template
        ><template v-if="step.waits >= 0.5">; waits about {{ number(step.waits, 0) }} min</template>
      </span>
    </div>
  </section>
</template>
