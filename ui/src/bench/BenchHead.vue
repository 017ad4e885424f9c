<script setup lang="ts">
/** The head of the bench: clocks, the one sentence, the one big key and what stands beside it. */
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { api, take, type PourView, type Schemas } from '../api/client'
import { useWrite } from '../api/writes'
import FirstAid from './FirstAid.vue'
import { clock } from '../support/format'
import { onlyBench } from '../support/me'

const props = defineProps<{
  view: PourView
  minute: number
  running: boolean
  kept: string
  cue: string
  /** What was noted of the step in hand. */
  noted: string
  cues: boolean
  busy: boolean
  keys: Schemas['Key'][]
  /** What can be tapped while nothing answers. */
  alone: { kind: 'split' | 'pouring' | 'ended'; message: string }[]
  narrow: boolean
}>()
const emit = defineEmits<{
  press: [n: number]
  why: []
  turn: [kind: 'split' | 'pouring' | 'ended']
  cues: []
  show: [view: PourView]
}>()

const advice = computed(() => props.view.advice)
const bench = computed(() => props.view.bench)
const clocks = computed(() => [
  ...bench.value.batches.slice(1).map((b) => ({ name: `${b.name}'s lye`, since: b.since })),
  ...(bench.value.step ? [{ name: 'this step', since: bench.value.step.since }] : []),
  ...(bench.value.scent ? [{ name: 'scent in', since: bench.value.scent.since }] : []),
])
const noted = computed(() => (props.running && props.noted ? `Noted of ${props.noted}` : ''))
/** What is said under the sentence, the gravest first; while it runs only what there is room for. */
const lines = computed(() =>
  [advice.value.caution, advice.value.warning, noted.value, advice.value.detail]
    .filter(Boolean)
    .slice(0, props.running ? 2 : 3),
)
const others = computed(() => props.keys.slice(1))
// What is not answered leaves the pace as it was: the key shows which it is.
const { run: speed } = useWrite(
  (times: number) =>
    take(
      api.PUT('/api/practice/{practice_id}/speed', {
        params: { path: { practice_id: props.view.id } },
        body: { speed: times },
      }),
    ),
  { done: (view) => emit('show', view) },
)
</script>

<template>
  <div class="flex items-center gap-x-4 text-sm text-mist">
    <RouterLink :to="view.practice ? '/practice' : '/pours'" class="whitespace-nowrap underline">{{
      narrow ? 'Leave' : 'Leave the bench'
    }}</RouterLink>
    <h1 v-if="!(cue && narrow)" class="min-w-0 truncate font-semibold text-bone" :title="view.recipe.name">
      {{ view.recipe.name }}
    </h1>
    <span v-if="!narrow" class="truncate whitespace-nowrap">{{ view.technique.name.toLowerCase() }}</span>
    <span v-if="view.practice && running" class="flex gap-1" role="radiogroup" aria-label="Pace of the clock">
      <button
        v-for="times in [1, 10]"
        :key="times"
        type="button"
        role="radio"
        class="min-h-6 min-w-9 rounded border border-seam"
        :class="view.practice.speed === times ? 'bg-bone text-ink' : ''"
        :aria-checked="view.practice.speed === times"
        @click="speed(times)"
      >
        {{ times }} ×
      </button>
    </span>
    <FirstAid :aid="view.aid" />
    <span
      v-if="cue"
      class="min-w-0 flex-1 truncate text-center text-base font-bold text-honey"
      role="status"
      >{{ cue }}</span
    >
    <button
      v-if="running"
      type="button"
      class="min-h-6 whitespace-nowrap underline"
      :class="cue ? '' : 'ml-auto'"
      :aria-pressed="cues"
      @click="emit('cues')"
    >
      {{ cues ? (narrow ? 'sound on' : 'sound and buzz on') : narrow ? 'silent' : 'silent' }}
    </button>
    <span v-if="!(cue && narrow)" class="truncate" :class="running ? '' : 'ml-auto'" role="status">{{
      kept
    }}</span>
  </div>

  <div
    class="grid items-start gap-x-6 gap-y-1.5 sm:grid-cols-[auto_minmax(0,1.7fr)_minmax(0,1fr)] max-lg:gap-x-4 sm:max-lg:portrait:grid-cols-[auto_minmax(0,1fr)]"
  >
    <div class="flex items-end gap-4 max-sm:gap-3">
      <div>
        <div
          class="fig leading-none font-bold"
          :class="view.minute >= 60 ? 'text-4xl max-sm:text-3xl' : 'text-6xl max-lg:text-5xl max-sm:text-5xl'"
          role="timer"
          aria-label="Elapsed"
        >
          {{ clock(minute) }}
        </div>
        <div class="pt-1 text-sm text-mist">{{ running ? 'since lye met fats' : 'when it ended' }}</div>
      </div>
      <div
        v-if="running && clocks.length"
        class="pb-0.5 text-sm leading-tight text-mist max-sm:flex max-sm:flex-wrap max-sm:gap-x-3"
      >
        <div v-for="c in clocks.slice(0, 4)" :key="c.name" class="whitespace-nowrap">
          <b class="text-base text-bone">{{ clock(minute - c.since) }}</b>
          <span class="inline-block max-w-32 truncate pl-1.5 align-bottom">{{ c.name }}</span>
        </div>
      </div>
    </div>
    <div class="min-w-0" :class="running ? 'h-28 overflow-hidden max-sm:h-20' : ''">
      <div
        aria-live="polite"
        data-test="advice"
        :class="running ? 'cursor-pointer' : ''"
        @click="emit('why')"
      >
        <p
          class="leading-tight font-bold text-balance"
          :class="[
            advice.headline.length > 34 ? 'text-2xl max-lg:text-xl' : 'text-3xl max-xl:text-2xl',
            running ? 'line-clamp-2' : '',
          ]"
        >
          {{ advice.headline }}
          <span v-if="advice.amount" class="fig whitespace-nowrap text-honey" data-test="amount">{{
            advice.amount
          }}</span>
        </p>
        <p
          v-for="(line, n) in lines"
          :key="line"
          class="pt-0.5"
          :class="[
            line === advice.caution
              ? 'font-semibold text-blush'
              : line === noted
                ? 'font-semibold text-honey'
                : line === advice.detail
                  ? 'text-mist'
                  : '',
            running ? `line-clamp-1 max-sm:text-sm ${lines.length === 1 ? 'lg:line-clamp-2' : ''}` : '',
            n > 0 && running ? 'max-lg:hidden' : '',
          ]"
        >
          {{ line }}
        </p>
      </div>
      <RouterLink
        v-if="running && advice.day"
        :to="`/recipes/${view.recipe_id}/ready?day=${advice.day}`"
        class="inline-block min-h-6 font-semibold underline"
        >Ready check of day {{ advice.day }}</RouterLink
      >
      <button
        v-if="running && lines.length"
        type="button"
        class="sr-only focus:not-sr-only"
        @click="emit('why')"
      >
        All of what is said
      </button>
    </div>
    <div
      v-if="running && alone.length"
      class="grid auto-cols-fr grid-flow-col gap-2"
      role="group"
      aria-label="Without an answer"
    >
      <button
        v-for="key in alone"
        :key="key.kind"
        type="button"
        class="bench-key px-2"
        @click="emit('turn', key.kind)"
      >
        {{ key.message }}
      </button>
    </div>
    <div
      v-else-if="running"
      class="grid h-28 gap-2 max-sm:h-24 sm:max-lg:portrait:col-span-2"
      :class="others.length ? 'grid-cols-[1.5fr_1fr]' : ''"
    >
      <button
        v-if="keys[0]"
        type="button"
        class="bench-main min-h-0! text-xl! leading-tight!"
        :class="others.length > 1 ? 'row-span-2' : ''"
        :disabled="busy"
        @click="emit('press', 0)"
      >
        {{ keys[0].message }} <kbd v-if="!narrow" class="bench-kbd max-lg:hidden">N</kbd>
      </button>
      <button
        v-for="(key, n) in others"
        :key="key.message"
        type="button"
        class="bench-key min-h-0! px-2 leading-tight! max-lg:text-base! short:text-sm!"
        :disabled="busy"
        @click="emit('press', n + 1)"
      >
        {{ key.message }}
      </button>
    </div>
    <RouterLink
      v-else-if="!view.practice"
      :to="
        onlyBench()
          ? '/'
          : view.recipe.scents[0]
            ? `/shelf/${view.recipe.scents[0].fragrance}`
            : `/recipes/${view.recipe_id}/forecast`
      "
      class="bench-main"
    >
      {{ onlyBench() ? 'Next pour' : view.recipe.scents.length ? 'What it taught' : 'Next forecast' }}
    </RouterLink>
    <RouterLink v-else to="/practice" class="bench-main">Practise again</RouterLink>
  </div>
</template>
