<script setup lang="ts">
/** What now? One line of advice, the batter's time, and keys for wet gloves. */
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { usePour } from '../bench/usePour'
import { outbox } from '../keep/outbox'
import AfterPour from '../bench/AfterPour.vue'
import BenchKeys, { type Tool } from '../bench/BenchKeys.vue'
import Doubts from '../bench/Doubts.vue'
import type { FLAGS } from '../bench/events'
import FlagDialog from '../bench/FlagDialog.vue'
import { clock, day, inHundred } from '../support/format'
import TemperatureDialog from '../bench/TemperatureDialog.vue'
import { soonest } from '../ribbon/soonest'
import { useWindow } from '../support/useWindow'
import TraceRibbon from '../ribbon/TraceRibbon.vue'
import Swatch from '../support/Swatch.vue'
import { STAGES, type Stage } from '../ribbon/batter'

const props = defineProps<{ id: string }>()
const pour = usePour(props.id)
const { view, minute, running } = pour
const refused = computed(() => outbox.refused.value.filter((t) => t.pour === props.id))

const ALL = null
const seen = useWindow()
/** Portions whose lanes leave the keys on the first screen. */
const room = computed(() => (seen.width < 640 ? 1 : seen.height < 790 ? 2 : 3))
const MANY = 6 // portions from which their names are shortened and numbered
const every = ref(false)
const portion = ref<string | null>(ALL)
const asking = ref(false)
const wrong = ref(false)
const working = ref<{ tool: Tool; from: number } | null>(null)

const portions = computed(() => view.value?.recipe.design.portions ?? [])
const standing = (kind: string) => pour.standing.value.some((e) => e.kind === kind)
const split = computed(() => (view.value?.split !== null || standing('split')) && portions.value.length > 1)
watch(split, (is) => {
  portion.value = is ? (portions.value.find((p) => p.scent > 0)?.name ?? portions.value[0]?.name ?? ALL) : ALL
})
const levelOf = (name: string | null) => {
  const lanes = view.value?.forecast.lanes ?? []
  if (name !== null) return lanes.find((l) => l.portion === name)?.level ?? 0
  return Math.min(...lanes.map((l) => l.level))
}
const level = computed(() => (view.value ? levelOf(portion.value) : 0))
const advice = computed(() => view.value?.advice)
const target = computed(() => portions.value.find((p) => view.value?.waiting.includes(p.name)))
const hasScent = computed(() => (view.value?.recipe.scents.length ?? 0) > 0)

const DO: Record<string, string> = {
  emulsion: 'It is at emulsion',
  split: 'Batter is split',
  pouring: 'Pouring now',
  ended: 'Mould is full',
}
/** What can still be put down while nothing answers: advice stands still then, the batter does not. */
const unanswered = computed(() => {
  if (!pour.offline.value) return []
  const turns = (['split', 'pouring', 'ended'] as const).filter((kind) => !standing(kind))
  return portions.value.length > 1 ? turns : turns.filter((kind) => kind !== 'split')
})
const CHANGES = ['switch', 'skip', 'fold', 'spare']
/** Whether the advice is to leave what was drawn: then going on has a key of its own. */
const change = computed(() => CHANGES.includes(advice.value?.do ?? ''))
/** The plan's own next act, in words. */
const going = computed(() => {
  const a = advice.value
  if (!a || a.go === 'done') return null
  if (a.go === 'scent') return `Scent is in: ${target.value?.name ?? ''}`
  if (a.go === 'step') return `Done: ${a.go_step ?? ''}`
  if (a.go === 'emulsion' && a.portion) return `${a.portion} is an emulsion`
  return DO[a.go] ?? null
})
const main = computed(() => {
  const a = advice.value
  if (a?.do === 'switch') return `Change to ${a.technique_name.toLowerCase()}`
  if (a?.do === 'skip') return `Leave it out: ${a.step ?? ''}`
  if (a?.do === 'fold') return `Folded: ${a.portion ?? ''} into ${a.into.join(', ')}`
  if (a?.do === 'spare') return 'In a spare mould'
  return going.value
})

function act() {
  const a = advice.value
  // While a tap is on its way the advice is about to change: acting on the old one would do the wrong thing.
  if (!a || !main.value || pour.waiting.value.length) return
  if (a.do === 'switch' && a.technique) pour.tap({ kind: 'switch', technique: a.technique })
  else if (a.do === 'skip' && a.step) pour.tap({ kind: 'skip', step: a.step })
  else if (a.do === 'fold' && a.portion) pour.tap({ kind: 'fold', portion: a.portion, into: a.into })
  else if (a.do === 'spare') pour.tap({ kind: 'spare', portion: null })
  else goOn()
}
function goOn() {
  const a = advice.value
  if (!a || pour.waiting.value.length) return
  if (a.go === 'emulsion')
    pour.tap({ kind: 'seen', portion: a.portion ?? null, stage: 'emulsion', turned: false })
  else if (a.go === 'scent') scentIn()
  else if (a.go === 'step' && a.go_step) pour.tap({ kind: 'step', step: a.go_step })
  else if (a.go === 'split' || a.go === 'pouring' || a.go === 'ended') pour.tap({ kind: a.go })
}
function scentIn() {
  const into = split.value ? (portion.value ?? target.value?.name ?? null) : null
  pour.tap({
    kind: 'scent',
    portion: advice.value?.go === 'scent' && split.value ? (target.value?.name ?? into) : into,
    grams: null,
    share: null,
  })
}
const stage = (s: Stage) => pour.tap({ kind: 'seen', portion: portion.value, stage: s, turned: false })

function workStart(tool: Tool) {
  if (working.value === null && running.value) working.value = { tool, from: performance.now() }
}
function workStop() {
  if (working.value === null) return
  const { tool, from } = working.value
  const seconds = Math.max(1, Math.round((performance.now() - from) / 100) / 10)
  working.value = null
  pour.tap({ kind: 'work', tool, portion: portion.value, seconds, purpose: 'mix' })
}
function temperature(celsius: number) {
  asking.value = false
  pour.tap({ kind: 'temperature', celsius })
}

function flag(what: keyof typeof FLAGS) {
  wrong.value = false
  pour.tap({ kind: 'flag', portion: portion.value, flag: what })
}
function unscented() {
  wrong.value = false
  pour.tap({ kind: 'unscented', portion: portion.value })
}
function reopen() {
  const end = view.value?.events.find((e) => e.event.kind === 'ended')
  if (end) pour.takeBack(end.event.id)
}

function nextPortion(by: number) {
  if (!split.value) return
  const names = portions.value.map((p) => p.name)
  const at = portion.value === null ? -1 : names.indexOf(portion.value)
  portion.value = names[(at + by + names.length) % names.length] ?? ALL
}
const typing = (event: KeyboardEvent) =>
  asking.value ||
  wrong.value ||
  event.ctrlKey ||
  event.metaKey ||
  event.altKey ||
  event.target instanceof HTMLInputElement
function down(event: KeyboardEvent) {
  if (typing(event) || !running.value) return
  const key = event.key.toLowerCase()
  if (key >= '1' && key <= '5' && !event.repeat) stage(STAGES[Number(key) - 1] as Stage)
  else if (key === 'b') workStart('stick')
  else if (key === 'w') workStart('hand')
  else if (event.repeat) return
  else if (key === 'f' && hasScent.value) scentIn()
  else if (key === 't') {
    asking.value = true
    event.preventDefault()
  } else if (key === 'r') {
    wrong.value = true
    event.preventDefault()
  } else if (key === 'u') pour.undo()
  else if (key === 'n') act()
  else if (key === 'arrowright') nextPortion(1)
  else if (key === 'arrowleft') nextPortion(-1)
}
const up = (event: KeyboardEvent) => ['b', 'w'].includes(event.key.toLowerCase()) && workStop()
onMounted(() => {
  window.addEventListener('keydown', down)
  window.addEventListener('keyup', up)
  window.addEventListener('blur', workStop)
})
onBeforeUnmount(() => {
  window.removeEventListener('keydown', down)
  window.removeEventListener('keyup', up)
  window.removeEventListener('blur', workStop)
})

const marks = computed(() =>
  (view.value?.events ?? [])
    .filter((e) => !['seen', 'temperature', 'smooth', 'colour'].includes(e.event.kind))
    .map((e) => ({
      minute: e.event.minute,
      label: e.label,
      portion: 'portion' in e.event ? (e.event.portion ?? null) : null,
    })),
)
const kept = computed(() => {
  const n = view.value?.events.length ?? 0
  const open = pour.waiting.value.length
  if (pour.offline.value && open) return `${open} not saved yet; kept here, trying again`
  if (pour.offline.value) return 'Round Stone does not answer; taps are kept here'
  if (open) return 'saving …'
  return n ? `${n} event${n > 1 ? 's' : ''}, all saved` : 'nothing logged yet'
})
const shown = computed(() => {
  const all = (view.value as NonNullable<typeof view.value>).forecast
  return every.value || !running.value ? all : soonest(all, room.value, portion.value)
})
const latestDoubt = computed(() => view.value?.doubts.at(-1))
const tints = computed(() => view.value?.forecast.lanes.map((l) => l.tint) ?? [])
const recent = computed(() => [...(view.value?.events ?? [])].slice(-4).reverse())
</script>

<template>
  <div class="bench min-h-screen bg-slate text-bone">
    <div class="mx-auto flex min-h-screen max-w-7xl flex-col gap-3 px-6 pt-3 pb-4 max-sm:px-3">
      <p v-if="pour.missing.value" class="py-10 text-lg">
        {{ pour.missing.value }} <RouterLink to="/pours" class="underline">To the pours</RouterLink>
      </p>
      <p v-else-if="!view" class="py-10 text-lg" role="status">
        {{
          pour.offline.value
            ? 'Round Stone does not answer. This bench opens by itself when it does; taps made before are kept here.'
            : 'Opening the bench …'
        }}
        <RouterLink to="/pours" class="underline">To the pours</RouterLink>
      </p>
      <template v-else-if="view && advice">
        <div class="flex items-baseline gap-x-4 text-sm text-mist max-sm:flex-wrap">
          <RouterLink to="/pours" class="whitespace-nowrap underline">Leave the bench</RouterLink>
          <h1 class="min-w-0 truncate font-semibold text-bone">{{ view.recipe.name }}</h1>
          <span class="whitespace-nowrap max-sm:hidden"
            >version {{ view.version }} · {{ day(view.started) }}</span
          >
          <span class="ml-auto whitespace-nowrap" role="status">{{ kept }}</span>
        </div>

        <div class="grid items-start gap-x-7 gap-y-2 md:grid-cols-[9rem_minmax(0,1fr)_16rem]">
          <div class="flex items-baseline gap-3 md:block">
            <div class="fig text-5xl leading-none font-bold" role="timer" aria-label="Elapsed">
              {{ clock(minute) }}
            </div>
            <span class="text-sm text-mist">{{ running ? 'since lye met fats' : 'when it ended' }}</span>
          </div>
          <div aria-live="polite" data-test="advice">
            <p class="text-2xl leading-tight font-bold text-balance md:text-[1.7rem]">
              {{ advice.headline }}
            </p>
            <p class="pt-1 text-mist">{{ advice.detail }}</p>
            <p v-if="advice.caution" class="pt-0.5 font-semibold text-[#ffb4a8]">{{ advice.caution }}</p>
            <p v-if="advice.warning" class="pt-0.5">{{ advice.warning }}</p>
          </div>
          <div
            v-if="main && running && !unanswered.length"
            class="grid gap-2 max-md:auto-cols-fr max-md:grid-flow-col"
          >
            <button type="button" class="bench-main" :disabled="!!pour.waiting.value.length" @click="act">
              {{ main }} <kbd class="bench-kbd max-sm:hidden">N</kbd>
            </button>
            <button
              v-if="change && going"
              type="button"
              class="bench-key px-3"
              :disabled="!!pour.waiting.value.length"
              @click="goOn"
            >
              {{ going }}
            </button>
            <button
              v-else-if="view.pouring !== null && advice.go !== 'ended'"
              type="button"
              class="bench-key px-3"
              :disabled="!!pour.waiting.value.length"
              @click="pour.tap({ kind: 'ended' })"
            >
              {{ DO.ended }}
            </button>
          </div>
          <div
            v-else-if="running"
            class="grid auto-cols-fr grid-flow-col gap-2"
            role="group"
            aria-label="Without an answer"
          >
            <button
              v-for="kind in unanswered"
              :key="kind"
              type="button"
              class="bench-key px-2"
              @click="pour.tap({ kind })"
            >
              {{ DO[kind] }}
            </button>
          </div>
          <RouterLink
            v-else
            :to="
              view.recipe.scents[0]
                ? `/shelf/${view.recipe.scents[0].fragrance}`
                : `/recipes/${view.recipe_id}/forecast`
            "
            class="bench-main"
          >
            {{ view.recipe.scents.length ? 'What it taught' : 'Next forecast' }}
          </RouterLink>
        </div>

        <div>
          <TraceRibbon
            :forecast="shown"
            :lane="portions.length > 2 || room < 3 ? 44 : 72"
            :now="running ? minute : null"
            :marks="marks"
            bench
          />
          <button
            v-if="running && portions.length > room"
            type="button"
            class="relative -mt-6 ml-auto block text-sm text-mist underline max-sm:mt-0"
            :aria-pressed="every"
            @click="every = !every"
          >
            {{
              every
                ? `only the ${room > 1 ? `${room} ` : ''}soonest`
                : `the ${room > 1 ? `${room} soonest` : 'one asked for'} of ${portions.length}: show all`
            }}
          </button>
        </div>

        <p v-if="outbox.trouble.value" class="font-semibold text-[#ffb4a8]" role="alert">
          {{ outbox.trouble.value }}
        </p>
        <p
          v-for="t in refused"
          :key="t.id"
          class="flex flex-wrap items-center gap-3 text-[#ffb4a8]"
          role="alert"
        >
          <span class="fig">{{ clock(t.event.minute) }}</span> {{ t.event.kind }} could not be read:
          {{ t.refused }}
          <button type="button" class="bench-key px-4" @click="outbox.putAway(t)">Put away</button>
        </p>

        <template v-if="running">
          <div
            class="flex flex-wrap items-center gap-x-5 text-lg text-mist"
            role="radiogroup"
            aria-label="Portion"
          >
            <span>The batter in</span>
            <button
              v-for="(p, i) in split ? portions.map((x) => x.name) : []"
              :key="p"
              type="button"
              role="radio"
              class="truncate border-b-3 px-1"
              :class="[
                portions.length > MANY ? 'max-w-30 py-0.5 text-base' : 'max-w-60 py-1.5',
                portion === p ? 'border-bone font-bold text-bone' : 'border-transparent',
              ]"
              :aria-checked="portion === p"
              :aria-label="p"
              :title="p"
              @click="portion = p"
            >
              <span v-if="portions.length > MANY" class="fig mr-1.5" aria-hidden="true">{{ i + 1 }}</span>
              <Swatch v-else-if="tints[i]" :tint="tints[i] as string" class="mr-1.5 stroke-bone" />{{ p }}
            </button>
            <button
              type="button"
              role="radio"
              class="border-b-3 px-1 py-1.5"
              :class="portion === null ? 'border-bone font-bold text-bone' : 'border-transparent'"
              :aria-checked="portion === null"
              @click="portion = null"
            >
              {{ split ? 'all' : 'the pot' }}
            </button>
            <span>is now</span>
            <a
              v-if="latestDoubt"
              href="#doubts"
              class="ml-auto py-1.5 text-base font-semibold text-[#ffb4a8] underline max-sm:ml-0"
              >{{ view.doubts.length }} to answer: {{ latestDoubt.label }},
              <span class="fig">{{ clock(latestDoubt.minute) }}</span></a
            >
          </div>
          <BenchKeys
            :level="level"
            :working="working?.tool ?? null"
            :scent="hasScent"
            :can-undo="pour.standing.value.length > 0"
            @stage="stage"
            @work-start="workStart"
            @work-stop="workStop"
            @scent="scentIn"
            @temperature="asking = true"
            @wrong="wrong = true"
            @undo="pour.undo"
          />
        </template>
        <AfterPour
          v-if="!running"
          :view="view"
          @log="pour.log"
          @take-back="pour.takeBack"
          @refresh="pour.look"
        />
        <div v-if="!running" class="flex flex-wrap items-center gap-4 border-t border-slab pt-3">
          <span class="text-mist">Ended by a slip? Taking the end back opens it again.</span>
          <button type="button" class="bench-key px-5" @click="reopen">Undo the end</button>
        </div>

        <div
          data-test="recent"
          class="mt-auto flex flex-wrap gap-x-8 gap-y-1 border-t border-slab pt-2 text-sm text-mist"
        >
          <span v-if="running">
            <b class="text-bone">{{ view.technique.name }}</b>
            as drawn {{ inHundred(view.forecast.outlook.drawn) }}
          </span>
          <span>{{ view.celsius.toFixed(0) }} °C {{ view.measured ? 'read' : 'as stated' }}</span>
          <span v-for="e in running ? recent : []" :key="e.event.id">
            <span class="fig">{{ clock(e.event.minute) }}</span> {{ e.label }}
          </span>
          <span v-if="running && view.look_at !== null">
            next look most telling at <b class="fig text-bone">{{ clock(view.look_at) }}</b><template
              v-if="portions.length > 1"
            >
              in {{ view.look_into }}</template
            >
          </span>
          <span class="ml-auto max-sm:hidden">gloves stay on until it is covered</span>
        </div>
        <TemperatureDialog
          :open="asking"
          :celsius="view.celsius"
          @close="asking = false"
          @read="temperature"
        />
        <FlagDialog
          :open="wrong"
          :scent="!!target"
          :where="portion ?? (split ? 'all of it' : 'the pot')"
          @close="wrong = false"
          @flag="flag"
          @unscented="unscented"
        />
      </template>
    </div>
    <!-- Below the first screen, so that no key moves under a finger when a question comes up. -->
    <Doubts
      v-if="view?.doubts.length"
      id="doubts"
      class="mx-auto max-w-7xl px-6 pb-4 max-sm:px-3"
      :doubts="view.doubts"
      @keep="pour.keep"
      @move="pour.move"
      @take-back="pour.takeBack"
    />
  </div>
</template>
