<script setup lang="ts">
/** Before the lye meets the fats: everything in the order of work to be ticked, and jug and pot on their way. */
import { computed, ref, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { RouterLink, useRouter } from 'vue-router'
import { api, take, type Schemas } from '../api/client'
import { useWrite } from '../api/writes'
import BenchDialog from '../bench/BenchDialog.vue'
import FirstAid from '../bench/FirstAid.vue'
import { useCues } from '../bench/useCues'
import { onlyBench } from '../support/me'
import Swatch from '../support/Swatch.vue'
import JugAndPot from '../ready/JugAndPot.vue'
import LastTime from '../ready/LastTime.vue'
import ReweighCard from '../ready/ReweighCard.vue'
import StageList from '../ready/StageList.vue'
import TickKey from '../ready/TickKey.vue'
import { useReady } from '../ready/useReady'

type Item = Schemas['ReadyItem']
/** `day` is that of a build over several days. */
const props = withDefaults(defineProps<{ id: string; day?: number }>(), { day: 1 })
const router = useRouter()
const client = useQueryClient()
const ready = useReady(props.id, props.day)
const { view, message, faults, minute, act } = ready

/** Only a hand turns to another stage: what is ticked never moves the page under the finger. */
const at = ref(0)
watch(
  () => view.value !== null,
  () => (at.value = Math.max(view.value?.stages.findIndex((s) => !s.done) ?? 0, 0)),
)
const stages = computed(() => view.value?.stages ?? [])
const stage = computed(() => stages.value[Math.min(at.value, stages.value.length - 1)] ?? null)
const last = computed(() => at.value >= stages.value.length - 1)
const next = computed(() => stages.value[at.value + 1] ?? null)
function go(to: number) {
  at.value = to
  window.scrollTo({ top: 0 })
}
const open = computed(() =>
  stages.value
    .filter((s, n) => s.open && n !== at.value)
    .map((s) => s.title)
    .join(', '),
)
/** Items in runs of one cup, as they stand. */
function cups(items: Item[]): { cup: string; tint: string | null; items: Item[] }[] {
  const out: { cup: string; tint: string | null; items: Item[] }[] = []
  for (const item of items) {
    const run = out.at(-1)
    if (run && run.cup === item.cup) run.items.push(item)
    else out.push({ cup: item.cup, tint: item.tint ?? null, items: [item] })
  }
  return out
}
/** A tick says what was read here: should the recipe be another by then, the server knows which was weighed. */
const tap = (i: Item) =>
  act({ kind: 'tick', key: i.key, on: !i.ticked, grams: i.reading, message: i.message, line: i.line })
const cues = useCues(
  computed(() => view.value?.cues ?? []),
  minute,
  computed(() => view.value !== null),
)
const pour = useWrite(
  (sure: boolean, again: boolean) =>
    take(api.POST('/api/pours', { body: { recipe_id: props.id, sure, again } })),
  {
    touches: ['pours', 'recipes'],
    done: (made) => {
      void client.invalidateQueries({ queryKey: ['recipe', props.id] })
      return router.push(`/pours/${made.id}`)
    },
    once: true,
  },
)
const starting = pour.busy
/** Lye lies weighed for another weight: asked before the clock starts. */
const asking = ref(false)
const unsure = computed(() => (asking.value ? pour.faults.value.map((f) => f.message) : []))
/** Faults that are said beside their own field. */
const BESIDE = ['/jug', '/pot', '/band', '/lye']
/** Another of it beside the one that runs: only ever by a key that says so. */
const again = ref(false)
function begin(beside: boolean) {
  again.value = beside
  return start()
}
async function start(sure = false) {
  faults.value = []
  asking.value = !(await pour.run(sure, again.value)) && pour.asks.value
  if (!asking.value) faults.value = pour.faults.value
}
</script>

<template>
  <div class="bench min-h-screen bg-slate text-bone">
    <div class="mx-auto max-w-7xl px-5 pt-2 pb-4 max-sm:px-3">
      <div class="flex items-center gap-4 text-sm text-mist">
        <RouterLink :to="onlyBench() ? '/' : `/recipes/${id}`" class="whitespace-nowrap underline">{{
          onlyBench() ? 'Back' : 'Back to the recipe'
        }}</RouterLink>
        <h1 class="min-w-0 truncate font-semibold text-bone">{{ view?.name ?? 'Ready check' }}</h1>
        <span v-if="view && view.days > 1" class="whitespace-nowrap" role="group" aria-label="Day">
          <RouterLink
            v-for="d in view.days"
            :key="d"
            :to="`/recipes/${id}/ready?day=${d}`"
            class="px-1.5 py-1"
            :class="d === day ? 'font-bold text-bone' : 'underline'"
            :aria-current="d === day ? 'page' : undefined"
            >Day {{ d }}</RouterLink
          >
        </span>
        <span v-if="cues.message.value" class="text-base font-bold text-honey" role="status">{{
          cues.message.value
        }}</span>
        <span class="ml-auto"><FirstAid v-if="view" :aid="view.aid" /></span>
        <button type="button" class="min-h-6 whitespace-nowrap underline" @click="cues.toggle">
          {{ cues.on.value ? 'sound and buzz on' : 'silent' }}
        </button>
      </div>
      <p v-if="message" class="py-2 font-semibold text-blush" role="alert">{{ message }}</p>
      <p
        v-for="f in faults.filter((x) => !BESIDE.includes(x.pointer))"
        :key="f.message"
        class="py-2 font-semibold text-blush"
        role="alert"
      >
        {{ f.message }}
      </p>
      <p v-if="!view && !message && !faults.length" class="py-10 text-lg" role="status">
        Opening the ready check …
      </p>
      <div
        v-if="view && stage"
        class="grid items-start gap-x-6 gap-y-3 pt-2 md:grid-cols-[15rem_minmax(0,1fr)] lg:grid-cols-[18rem_minmax(0,1fr)]"
      >
        <StageList
          class="md:sticky md:top-2"
          :stages="stages"
          :at="Math.min(at, stages.length - 1)"
          @go="go"
        />
        <div class="flex min-w-0 flex-col gap-3">
          <ReweighCard
            v-if="view.reweigh.length"
            :reweigh="view.reweigh"
            :later="day > 1"
            @put-away="(key) => act({ kind: 'tick', key, on: false, grams: null, message: '', line: '' })"
            @follow="ready.follow"
          />
          <LastTime v-if="at === 0" :view="view" @heed="(note, how) => act({ kind: 'note', note, how })" />
          <JugAndPot v-if="last && view.combines" :view="view" :ready="ready" />
          <section v-for="part in stage.parts" :key="part.title">
            <h2 class="text-2xl leading-tight font-bold">{{ part.title }}</h2>
            <p v-if="part.does" class="text-mist">{{ part.does }}</p>
            <p
              v-for="c in part.cautions"
              :key="c.message"
              class="font-semibold"
              :class="c.danger ? 'text-blush' : 'text-honey'"
            >
              {{ c.message }}
            </p>
            <div
              v-for="run in cups(part.items)"
              :key="`${run.cup} ${run.items[0]?.key}`"
              class="pt-1.5"
              :class="run.cup ? 'sm:grid sm:grid-cols-[8rem_minmax(0,1fr)] sm:gap-3' : ''"
            >
              <span v-if="run.cup" class="flex items-center gap-2 py-1 font-bold">
                <Swatch v-if="run.tint" :tint="run.tint" class="w-7! shrink-0 stroke-bone" />
                <span class="min-w-0 truncate">{{ run.cup }}</span>
              </span>
              <div class="grid gap-1.5 lg:grid-cols-2">
                <TickKey v-for="item in run.items" :key="item.key" :item="item" @tap="tap(item)" />
              </div>
            </div>
          </section>
          <JugAndPot v-if="stage.hot" :key="stage.hot" :view="view" :ready="ready" :only="stage.hot" />
          <RouterLink
            v-if="view.running && !starting && (day === 1 || last)"
            :to="`/pours/${view.running}`"
            class="bench-main min-h-20! text-2xl!"
          >
            {{ day > 1 && last ? 'Back to the bench' : 'To the running pour' }}
          </RouterLink>
          <p v-else-if="day > 1 && last" class="text-lg font-bold">
            Day {{ day }} goes on at the bench, once day 1 is poured.
          </p>
          <button
            v-if="day === 1 && last && (!view.running || starting)"
            type="button"
            class="bench-main min-h-20! text-2xl!"
            :disabled="starting"
            @click="begin(false)"
          >
            Lye meets fats: start the clock
          </button>
          <button
            v-if="day === 1 && last && view.running && !starting"
            type="button"
            class="bench-key w-full"
            @click="begin(true)"
          >
            Pour it once more: lye meets fats
          </button>
          <button
            v-if="next"
            type="button"
            class="bench-main min-h-20! flex-col! gap-0! text-2xl!"
            :class="view.running && day === 1 ? 'bg-steel! text-bone!' : ''"
            @click="go(at + 1)"
          >
            Go on: {{ next.title }}
            <span v-if="stage.open" class="block text-base font-normal">not ticked: {{ stage.open }}</span>
          </button>
          <p class="text-mist" role="status">
            <template v-if="last && open">Not ticked yet, of other stages: {{ open }}. </template>
            Nothing is forced. Local rules and those who know your lye come first.
          </p>
        </div>
      </div>
    </div>
    <BenchDialog
      :open="unsure.length > 0"
      wide
      title="Is this the right lye?"
      leave="Not yet"
      @close="asking = false"
    >
      <p v-for="u in unsure" :key="u" class="pb-2 text-lg leading-snug">{{ u }}</p>
      <button type="button" class="bench-key w-full" :disabled="starting" @click="start(true)">
        The jug was made anew: start the clock
      </button>
    </BenchDialog>
  </div>
</template>
