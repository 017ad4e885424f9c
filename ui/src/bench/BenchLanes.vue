<script setup lang="ts">
/**
 * The lanes of the bench, from now on: each shows where its portion is and what it is for, and choosing it is one tap.
 * What is in the mould shares a row. Rows move only when a step was tapped, and take no tap for a blink after that.
 */
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import type { Schemas } from '../api/client'
import { STAGES, type Stage } from '../ribbon/batter'
import Trail from '../ribbon/Trail.vue'
import LaneBar from './LaneBar.vue'
import { chance } from '../support/format'
import Swatch from '../support/Swatch.vue'

type Lane = Schemas['LaneNow']
const props = defineProps<{
  bench: Schemas['BenchNow']
  minute: number
  portion: string | null
  split: boolean
  narrow: boolean
}>()
const emit = defineEmits<{ choose: [portion: string | null] }>()

const LOCKED = 500 // ms
const away = (lane: Lane) => lane.where !== 'pot' && lane.where !== 'raw'
const poured = computed(() => (props.narrow ? [] : props.bench.lanes.filter(away)))
const open = computed(() => props.bench.lanes.filter((l) => props.narrow || !away(l)))
const dense = computed(() => open.value.length > 8)
const locked = ref(false)
let timer = 0
watch(
  () => open.value.map((l) => l.portion).join('\n'),
  () => {
    locked.value = true
    clearTimeout(timer)
    timer = window.setTimeout(() => (locked.value = false), LOCKED)
  },
)
onBeforeUnmount(() => clearTimeout(timer))
const choose = (name: string | null) => {
  if (!locked.value) emit('choose', name)
}

const every = computed(() => [2, 4, 5, 10, 20].find((t) => props.bench.horizon / t <= 4.5) ?? 20)
const ticks = computed(() => {
  const n = Math.floor((props.bench.horizon * 0.94) / every.value)
  return Array.from({ length: n + 1 }, (_, i) => i * every.value)
})
const stage = (lane: Lane) => (lane.level ? (STAGES[lane.level - 1] as Stage) : null)
const left = (lane: Lane) => (lane.span ? Math.max(0, Math.round(lane.span.q50 - props.minute)) : null)
const WHERE: Record<Lane['where'], string> = {
  raw: 'not combined yet',
  pot: 'in its pot',
  mould: 'in the mould',
  folded: 'folded in',
  spare: 'in a spare mould',
}
/** What is said under a lane's name. */
const message = (lane: Lane) =>
  lane.flagged && !away(lane)
    ? lane.flagged.replace('-', ' ')
    : lane.assumed
      ? 'in by now? tap it'
      : lane.where === 'pot'
        ? (stage(lane) ?? WHERE.pot)
        : WHERE[lane.where]
const told = (lane: Lane) =>
  [lane.portion, message(lane), lane.step, lane.odds === null ? '' : chance(lane.odds)]
    .filter(Boolean)
    .join(', ')
/** Whose turn is likely next: offered, and taken by a tap alone. */
const likely = (lane: Lane) =>
  props.split && props.bench.choose === lane.portion && props.portion !== lane.portion
/** What every lane is, however it is drawn: one choice among all. Before the split all of them are the pot. */
const radio = (lane: Lane) => ({
  type: 'button' as const,
  role: 'radio',
  'aria-checked': props.portion === lane.portion || !props.split,
  'aria-label': told(lane),
  title: lane.portion,
  onClick: () => choose(props.split ? lane.portion : null),
})
</script>

<template>
  <!-- A phone: tiles, and the whole lane of the chosen one stands above them. -->
  <div
    v-if="narrow"
    class="grid flex-2 auto-rows-[minmax(3.25rem,1fr)] gap-1.5"
    role="radiogroup"
    aria-label="Portion"
    :class="[bench.lanes.length > 8 ? 'grid-cols-4' : 'grid-cols-3', locked ? 'pointer-events-none' : '']"
  >
    <button
      v-for="lane in split ? open : []"
      :key="lane.portion"
      v-bind="radio(lane)"
      class="lane-tile"
      :class="[
        portion === lane.portion ? 'bg-steel ring-3 ring-bone' : 'bg-well',
        away(lane) ? 'text-mist' : '',
      ]"
    >
      <span class="flex min-w-0 items-center gap-1.5 font-bold">
        <Swatch :tint="lane.tint" class="w-4! stroke-bone" /><span class="truncate">{{ lane.portion }}</span>
        <span v-if="likely(lane)" class="ml-auto text-xs font-normal text-honey">next</span>
      </span>
      <span class="flex items-baseline gap-1.5">
        <Trail v-if="stage(lane)" :stage="stage(lane) as Stage" class="w-6 self-center" />
        <template v-if="!away(lane) && left(lane) !== null">
          <b class="ml-auto text-xl leading-none">{{ left(lane) }}</b><span class="text-xs text-mist"
            >min</span
          >
        </template>
        <span v-else class="ml-auto truncate text-xs text-mist">{{
          away(lane) ? WHERE[lane.where] : lane.day ? `day ${lane.day}` : ''
        }}</span>
      </span>
    </button>
    <button
      type="button"
      role="radio"
      :aria-checked="portion === null"
      class="lane-tile items-center justify-center! font-bold"
      :class="portion === null ? 'bg-steel ring-3 ring-bone' : 'border-seam bg-slab'"
      @click="choose(null)"
    >
      {{ split ? 'all' : 'the pot' }}
    </button>
  </div>

  <div
    v-else
    class="flex min-h-0 flex-1 flex-col gap-1"
    role="radiogroup"
    aria-label="Portion"
    :class="locked ? 'pointer-events-none' : ''"
  >
    <div class="lane-grid pb-0.5 text-sm text-mist" aria-hidden="true">
      <span>{{ split ? 'tap a lane to choose it' : '' }}</span>
      <span class="relative h-5">
        <span
          v-for="t in ticks"
          :key="t"
          class="absolute whitespace-nowrap"
          :style="{ left: `${(100 * t) / bench.horizon}%` }"
          >{{ t ? `+${t}${t === every ? ' min' : ''}` : 'now' }}</span
        >
      </span>
    </div>
    <div v-if="poured.length" class="flex gap-1" :class="poured.length > 4 ? 'h-13' : 'h-15'">
      <button
        v-for="lane in poured"
        :key="lane.portion"
        v-bind="radio(lane)"
        class="flex min-w-0 flex-1 items-center gap-2 overflow-hidden rounded-lg px-2 text-left"
        :class="portion === lane.portion ? 'bg-steel ring-3 ring-bone' : 'bg-well'"
      >
        <Swatch :tint="lane.tint" class="w-5! stroke-bone" />
        <b class="truncate">{{ lane.portion }}</b>
        <span v-if="poured.length < 4" class="ml-auto truncate text-sm text-mist max-lg:hidden">{{
          WHERE[lane.where]
        }}</span>
      </button>
    </div>
    <button
      v-for="lane in open"
      :key="lane.portion"
      v-bind="radio(lane)"
      class="lane-grid min-h-0 flex-1 items-center rounded-lg px-2 text-left"
      :class="[
        open.length > 4 ? 'max-h-24' : 'max-h-36',
        split && portion === lane.portion ? 'bg-steel ring-3 ring-bone' : 'bg-well',
      ]"
    >
      <span class="flex min-w-0 items-center gap-2">
        <span class="min-w-0 flex-1">
          <span class="flex items-center gap-2 text-lg leading-tight font-bold">
            <Swatch :tint="lane.tint" class="w-5! stroke-bone" /><span class="truncate">{{
              lane.portion
            }}</span>
            <span v-if="likely(lane)" class="ml-auto text-sm font-normal text-honey">next</span>
            <Trail v-if="dense && stage(lane)" :stage="stage(lane) as Stage" class="w-5 shrink-0 text-mist" />
          </span>
          <span
            v-if="!dense"
            class="flex items-center gap-1.5 truncate leading-tight"
            :class="lane.flagged ? 'font-bold text-blush' : 'text-mist'"
          >
            <Trail v-if="stage(lane) && !lane.flagged" :stage="stage(lane) as Stage" class="w-5" />
            {{ message(lane) }}
          </span>
        </span>
        <span v-if="left(lane) !== null" class="text-right leading-none">
          <span class="whitespace-nowrap"
            ><b class="text-2xl">{{ left(lane) }}</b
            ><span class="pl-1 text-sm text-mist">min</span></span
          >
          <span v-if="!dense" class="block text-xs whitespace-nowrap text-mist">left to {{ lane.does }}</span>
        </span>
        <b v-else-if="lane.day" class="text-lg whitespace-nowrap text-mist">day {{ lane.day }}</b>
      </span>
      <LaneBar :lane="lane" :minute="minute" :horizon="bench.horizon" class="h-full max-h-20" />
    </button>
    <slot v-if="!open.length" />
    <button
      v-if="split"
      type="button"
      role="radio"
      :aria-checked="portion === null"
      class="bench-key mt-auto shrink-0"
      :class="portion === null ? 'ring-3 ring-bone' : ''"
      @click="choose(null)"
    >
      {{ poured.length && open.length ? 'all in pots' : 'all of it' }}
    </button>
  </div>
</template>

<style scoped>
@reference '../styles.css';
.lane-grid {
  display: grid;
  grid-template-columns: minmax(11rem, 15rem) minmax(0, 1fr);
  column-gap: 0.75rem;
}
.lane-tile {
  max-height: 5.5rem;
  display: flex;
  min-width: 0;
  min-height: 3.25rem;
  flex: 1;
  flex-direction: column;
  justify-content: space-between;
  border: 1.5px solid transparent;
  border-radius: 0.6rem;
  padding: 0.3rem 0.5rem;
  line-height: 1.15;
}
</style>
