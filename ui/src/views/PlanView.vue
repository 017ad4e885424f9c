<script setup lang="ts">
/** Where a design meets its batter: will it work, what would mend it, and what to turn to. */
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { useShelf } from '../api/queries'
import Choose from '../fields/Choose.vue'
import Message from '../fields/Message.vue'
import OutlookBar from '../forecast/OutlookBar.vue'
import { usePlan } from '../forecast/usePlan'
import Noted from '../ledger/Noted.vue'
import { injectDraft } from '../ledger/useDraft'
import Levers from '../plan/Levers.vue'
import MouldCut from '../plan/MouldCut.vue'
import PlanRibbon from '../plan/PlanRibbon.vue'
import Portions from '../plan/Portions.vue'
import StepPanel from '../plan/StepPanel.vue'
import Techniques from '../plan/Techniques.vue'
import CutFace from '../support/CutFace.vue'
import { length } from '../support/quantity'

type NewStep = Schemas['PutNew']['do']
const draft = injectDraft()
const { data: shelf } = useShelf()
const recipe = computed(() => draft.recipe.value as NonNullable<typeof draft.recipe.value>)
const design = computed(() => recipe.value.design)
const forecast = computed(() => draft.foretold.value?.forecast ?? null)
const { data: plan, error } = usePlan(draft)
const technique = computed(() => plan.value?.techniques.find((t) => t.technique === design.value.technique))
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
const percent = (share: number) => Math.round(100 * share)

const sentence = computed(() => {
  const weakest = forecast.value?.weakest
  if (!weakest) return 'Nothing in this plan hangs on the batter.'
  return weakest.odds < 0.9 ? `${capital(weakest.message)}.` : 'Every step finds its batter.'
})

// A lever that is tried stands as a ghost beside the plan until it is kept or let go.
const tried = shallowRef<Schemas['Lever'] | null>(null)
watch(draft.recipe, () => (tried.value = null))
const { data: trial } = useQuery({
  queryKey: ['trial', draft.id, tried],
  queryFn: ({ signal }) =>
    take(
      api.POST('/api/forecast', {
        body: { recipe: tried.value?.recipe as Schemas['Recipe'], seed: draft.id },
        signal,
      }),
    ),
  enabled: computed(() => tried.value !== null),
  gcTime: 0,
})
const ghost = computed(() => (tried.value ? (trial.value?.forecast ?? null) : null))
function keep(lever: Schemas['Lever']) {
  void draft.adjust({ kind: 'pull_lever', key: lever.key })
}

const chosen = ref<number | null>(null)
const step = computed(() => (chosen.value === null ? undefined : forecast.value?.steps[chosen.value]))
const spelled = computed(() =>
  chosen.value === null ? undefined : draft.foretold.value?.steps[chosen.value],
)
type Fold = '' | 'ways' | 'how' | 'add' | 'mould'
/** What stands open below the ribbon. */
const fold = ref<Fold>('')
const turn = (what: Fold) => (fold.value = fold.value === what ? '' : what)

function move(row: number, to: number) {
  void draft.adjust({ kind: 'move_step', row, to })
  if (chosen.value === row) chosen.value = Math.min(to, (forecast.value?.steps.length ?? 1) - 1)
}
const adds = computed(() => Object.entries(shelf.value?.steps.new ?? {}) as [NewStep, string][])
/** A new step: where it was dropped, else behind the one that is open, else at the end; a finish always there. */
function add(what: NewStep, at?: { row: number; lane: number }) {
  const end = chosen.value === null || shelf.value?.steps.last.includes(what)
  const row = at?.row ?? (end ? (forecast.value?.steps.length ?? 0) : (chosen.value ?? 0) + 1)
  const near = at?.lane ?? step.value?.portions[0] ?? 0
  const name = design.value.portions[Math.min(near, design.value.portions.length - 1)]?.name ?? ''
  void draft
    .adjust({ kind: 'put_new', row, do: what, portion: name })
    .then(() => draft.actFaults.value.length || (chosen.value = row))
}
/** From the keyboard: the words stand open, and the first has the focus. */
async function addAt(row: number) {
  chosen.value = row
  fold.value = 'add'
  await nextTick()
  words.value?.querySelector('button')?.focus()
}
// A word is dragged onto the ribbon, or touched.
const ribbon = ref<InstanceType<typeof PlanRibbon> | null>(null)
const words = ref<HTMLElement | null>(null)
const carried = ref<{ what: NewStep; x: number; y: number; from: [number, number] } | null>(null)
function lift(event: PointerEvent, what: NewStep) {
  if (event.button !== 0) return
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  carried.value = { what, x: event.clientX, y: event.clientY, from: [event.clientX, event.clientY] }
}
function carry(event: PointerEvent) {
  if (carried.value) Object.assign(carried.value, { x: event.clientX, y: event.clientY })
}
let dropped = false
function drop(event: PointerEvent) {
  const held = carried.value
  carried.value = null
  if (!held || Math.hypot(event.clientX - held.from[0], event.clientY - held.from[1]) < 6) return
  dropped = true
  const at = ribbon.value?.place(event.clientX, event.clientY)
  if (at) add(held.what, at)
}
/** The click that ends a drag is none. */
function touch(what: NewStep) {
  if (!dropped) add(what)
  dropped = false
}

const SCENT_AT = {
  portions: 'scent after the split',
  pour: 'scent as each is poured',
  emulsion: 'scent in the whole pot',
  fats: 'scent in the fats',
}
const SCENT_BY = { hand: 'whisked in by hand', stick: 'stick-blended in' }
const BATCHING = { whole: 'whole batter, then split', layers: 'layer by layer, each combined by itself' }
const WRAPS = {
  open: 'mould left open',
  covered: 'mould covered',
  insulated: 'mould in a towel',
  oven: 'mould in a warm oven',
  cold: 'mould in the fridge',
}
const filled = computed(() => {
  const mould = draft.weighed.value?.ledger?.mould
  return mould ? `to ${length(mould.height)} of ${length(mould.holds)}` : 'as it fills'
})
/** What the lanes will take, kept free until they are there. */
const room = computed(() => 116 + 55 * Math.max(design.value.portions.length, 1))
const stepFaults = computed(() => draft.faults.value.filter((f) => f.pointer.startsWith('/design/steps')))
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-6 gap-y-1 pt-1">
    <p class="text-2xl font-bold max-sm:text-xl" :class="draft.forecastStale.value ? 'stale' : ''">
      <template v-if="forecast">{{ sentence }}</template>
      <template v-else-if="draft.sheet.value || !draft.weighed.value">Forecasting …</template>
      <template v-else>No forecast while something is wrong with the recipe.</template>
    </p>
    <span
      v-if="forecast"
      class="ml-auto flex min-w-0 items-center gap-3 max-lg:ml-0 max-lg:w-full"
      :class="draft.forecastStale.value ? 'stale' : ''"
    >
      <span class="w-72 max-sm:w-28">
        <OutlookBar :outlook="forecast.outlook" class="block" />
        <OutlookBar
          v-if="ghost"
          :outlook="ghost.outlook"
          class="mt-0.5 block opacity-70 outline outline-dotted"
        />
      </span>
      <span class="text-sm whitespace-nowrap">
        <b class="fig text-xl">{{ percent(forecast.outlook.drawn) }}</b> % as planned ·
        {{ percent(forecast.outlook.different) }} % sellable ·
        <span :class="forecast.outlook.lost > 0.05 ? 'font-bold text-iron' : ''"
          >{{ percent(forecast.outlook.lost) }} % lost</span
        >
        <template v-if="ghost">
          → <b class="fig">{{ percent(ghost.outlook.drawn) }}</b></template
        >
      </span>
    </span>
  </div>
  <Noted />
  <ul v-if="!forecast" class="pb-2">
    <li v-for="f in draft.faults.value" :key="f.pointer + f.message" class="message">{{ f.message }}</li>
  </ul>
  <PlanRibbon
    v-if="forecast"
    ref="ribbon"
    class="mt-1"
    :class="draft.forecastStale.value ? 'stale' : ''"
    :forecast="forecast"
    :trial="ghost"
    :ready="design.ready ?? []"
    :backs="plan?.fall_backs ?? []"
    :chosen="chosen"
    :filled="filled"
    @choose="(row) => (chosen = row)"
    @move="move"
    @time="(row, times) => draft.adjust({ kind: 'time_step', row, minutes: null, times })"
    @add="addAt"
    @take="(row) => ((chosen = null), draft.adjust({ kind: 'take_step', row }))"
  />
  <div
    v-else-if="draft.sheet.value || !draft.weighed.value"
    class="mt-1"
    :style="{ height: `${room}px` }"
    aria-hidden="true"
  />
  <Message
    :faults="[
      ...stepFaults,
      ...draft.actFaults.value.filter((f) => !f.pointer.startsWith('/design/portions')),
    ]"
  />
  <StepPanel
    v-if="step && spelled && chosen !== null"
    :step="step"
    :spelled="spelled"
    :asks="draft.foretold.value?.asks[chosen ?? -1] ?? null"
    :row="chosen"
    @close="chosen = null"
    @gone="chosen = null"
    @move="(to) => chosen !== null && move(chosen, to)"
  />
  <div class="flex flex-wrap items-center gap-2 pt-2">
    <button type="button" class="key key-main" :aria-expanded="fold === 'ways'" @click="turn('ways')">
      {{ technique?.name ?? 'Techniques' }}{{ design.steps.length ? ', changed' : '' }} ▾
    </button>
    <button type="button" class="key" :aria-expanded="fold === 'how'" @click="turn('how')">
      How it is poured ▾
    </button>
    <button type="button" class="key" :aria-expanded="fold === 'add'" @click="turn('add')">
      Add a step ▾
    </button>
    <button type="button" class="key" :aria-expanded="fold === 'mould'" @click="turn('mould')">
      Top and cuts ▾
    </button>
  </div>
  <div v-if="fold === 'how'" class="flex flex-wrap items-center gap-x-5 gap-y-1.5 bg-chalk px-4 py-2">
    <Choose
      :model-value="design.scent_at ?? 'portions'"
      :options="SCENT_AT"
      label="When the fragrance goes in"
      @update:model-value="(at) => draft.edit('scent at', (d) => void (d.design.scent_at = at))"
    />
    <Choose
      :model-value="design.scent_by ?? 'hand'"
      :options="SCENT_BY"
      label="How the fragrance is stirred in"
      @update:model-value="(by) => draft.edit('scent by', (d) => void (d.design.scent_by = by))"
    />
    <Choose
      :model-value="design.batching ?? 'whole'"
      :options="BATCHING"
      label="How the batter is made"
      @update:model-value="(how) => draft.edit('batching', (d) => void (d.design.batching = how))"
    />
    <Choose
      :model-value="design.wrap ?? 'covered'"
      :options="WRAPS"
      label="How the mould rests"
      @update:model-value="(wrap) => draft.edit('wrap', (d) => void (d.design.wrap = wrap))"
    />
  </div>
  <MouldCut v-if="fold === 'mould'" class="bg-chalk px-4 py-2" />
  <div
    v-if="forecast && fold === 'add'"
    ref="words"
    role="group"
    aria-label="Add a step"
    class="flex flex-wrap items-center gap-1.5 bg-chalk px-4 py-2"
  >
    <span class="note">drag one to its place, or touch it</span>
    <button
      v-for="[what, word] in adds"
      :key="what"
      type="button"
      class="min-h-7 touch-none rounded-md border border-dashed border-ink/50 bg-chalk px-2 hover:border-ink"
      @pointerdown="lift($event, what)"
      @pointermove="carry"
      @pointerup="drop"
      @pointercancel="carried = null"
      @click="touch(what)"
    >
      {{ word }}
    </button>
    <span
      v-if="carried"
      class="pointer-events-none fixed z-50 rounded-md border border-ink bg-chalk px-2 py-1 font-bold shadow-lg"
      :style="{ left: `${carried.x + 6}px`, top: `${carried.y - 30}px` }"
    >
      {{ shelf?.steps.new[carried.what] }}
    </span>
  </div>
  <Message :faults="draft.faultsAt('/design/technique')" :cautions="draft.cautionsAt('/design/scent_at')" />
  <p v-if="error" class="message" role="alert">{{ error.message }}</p>
  <Techniques v-if="fold === 'ways'" :techniques="plan?.techniques ?? []" @done="fold = ''" />
  <div
    class="mt-3 grid gap-x-8 gap-y-6 pb-8 md:grid-cols-[15rem_minmax(0,1fr)] xl:grid-cols-[15rem_minmax(0,1.35fr)_minmax(0,1fr)]"
  >
    <section aria-labelledby="face" :class="draft.forecastStale.value ? 'stale' : ''">
      <div class="ledger-head">
        <h2 id="face">Cut face</h2>
        <span class="note">{{ ghost ? 'as tried' : 'expected' }}</span>
      </div>
      <p v-if="!forecast" class="note min-h-40 pt-2">{{ draft.sheet.value ? 'Loading …' : '' }}</p>
      <CutFace
        v-if="forecast"
        class="-mt-3"
        :code="(ghost ?? forecast).faces.cut"
        :width="240"
        message="The bar as it is likeliest to look when it is cut"
      />
      <ol v-if="forecast" class="flex justify-between pt-2">
        <li v-for="age in ['wet', 'cut', 'cured'] as const" :key="age" class="text-center">
          <CutFace :code="(ghost ?? forecast).faces[age]" :width="74" />
          <span class="note block">{{ age }}</span>
        </li>
      </ol>
    </section>
    <Portions />
    <div class="flex flex-col gap-6 md:col-span-2 xl:col-span-1">
      <Levers
        v-if="forecast"
        :plan="plan"
        :now="forecast.outlook"
        :tried="tried?.key ?? null"
        @try="(l) => (tried = l)"
        @keep="keep"
      />
    </div>
  </div>
</template>
