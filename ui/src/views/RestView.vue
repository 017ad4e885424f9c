<script setup lang="ts">
/** A batch at rest: what to touch next, and when; all else below, for who looks longer. */
import { ownUnit, readNumber } from '../support/quantity'
import { computed, reactive, ref } from 'vue'
import type { Schemas } from '../api/client'
import AnythingElse from '../rest/AnythingElse.vue'
import BarsForm from '../rest/BarsForm.vue'
import CameOut from '../rest/CameOut.vue'
import CureCurve from '../rest/CureCurve.vue'
import DueDates from '../rest/DueDates.vue'
import GelSections from '../rest/GelSections.vue'
import JudgeRows from '../rest/JudgeRows.vue'
import NextTime from '../rest/NextTime.vue'
import Pictures from '../rest/Pictures.vue'
import SincePour from '../rest/SincePour.vue'
import Swatches from '../rest/Swatches.vue'
import WeighForm from '../rest/WeighForm.vue'
import Windows from '../rest/Windows.vue'
import { useRest } from '../rest/useRest'
import { day } from '../support/format'
import { due, spanWords, whenWords } from '../support/when'
import { fixed } from '../support/decimal'

const props = defineProps<{ id: string }>()
const rest = useRest(props.id)
const { view, sections, now, ended, hours } = rest

const next = computed(() => view.value?.now.next[0])
const then = computed(() => view.value?.now.next[1])
const at = (h: number) => new Date(ended.value.getTime() + h * 3_600_000)
/** What is touched, and when: "Unmould now, or by 21:00", "Cut: 4:00 to 9:00 tomorrow". */
function told(touch: Schemas['Next'], message = touch.message) {
  const when = whenWords(touch, ended.value, now.value)
  return `${message}${when.startsWith('now') ? '' : ':'} ${when}`
}
const headline = computed(() =>
  !next.value ? '' : next.value.what === 'cover' ? next.value.message : told(next.value),
)
/** Keys of the next touch only once it may be done; what is not due asks for nothing. */
const keys = computed(() =>
  next.value && due(next.value, hours.value) !== 'later' ? (view.value?.now.keys ?? []) : [],
)
const asking = computed(() => (view.value?.now.questions ?? []).slice(0, 3))
/** What is next stands at the top; the same part is not shown again below. */
const judging = computed(
  () => !!next.value?.what.startsWith('judge') && due(next.value, hours.value) !== 'later',
)
const weighing = computed(() => next.value?.what === 'weigh' && due(next.value, hours.value) !== 'later')
const MOMENTS = { cut: 'at the cut', week: 'at a week', cured: 'cured' } as const

const faults = ref<Record<string, string>>({})
const cut = reactive({ bars: '', offcuts: '' })
/** A key taps its event; a cut also says how many bars it gave and what was cut off, where that was typed. */
function press(event: Record<string, unknown>) {
  faults.value = {}
  if (event.kind !== 'cut') return void rest.tap(event)
  const bars = cut.bars.trim()
  const off = cut.offcuts.trim() ? readNumber(cut.offcuts, 'g') : undefined
  if (bars && !/^[1-9]\d{0,3}$/.test(bars)) faults.value = { cut: 'Bars are a whole number.' }
  else if (off === null || (off ?? 0) < 0) faults.value = { cut: 'Offcuts are a weight.' }
  else
    void rest.tap({
      ...event,
      bars: bars ? Number(bars) : null,
      offcuts: off ?? null,
    })
}
const wrapOpen = computed(() => !!view.value && view.value.now.cut_at === null && hours.value < 24)
const choose = (how: Schemas['Section']['wrap']) => rest.tap({ kind: 'wrap', how })
const gelSeen = computed(() => view.value?.now.gel ?? null)
const GEL = { none: 'none', ring: 'ring', full: 'full' } as const
const cured = computed(
  () => view.value && spanWords(at(view.value.now.cured.low), at(view.value.now.cured.high), now.value),
)
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-4 max-sm:px-4">
    <p v-if="rest.fault.value" class="message py-8 text-base!" role="alert">
      {{ rest.fault.value.problem.errors[0]?.message ?? rest.fault.value.message }}
      <RouterLink :to="`/pours/${id}`" class="underline">To the pour</RouterLink>
    </p>
    <p v-else-if="!view" class="py-8 text-lg" role="status">
      {{ rest.away.value ? 'The server does not answer; asking again …' : 'Opening …' }}
    </p>
    <template v-else>
      <p class="text-[0.95rem] text-quiet">
        <RouterLink :to="`/pours/${id}`" class="font-bold text-ink hover:underline">{{
          view.recipe
        }}</RouterLink>
        <span v-if="view.batch" class="pl-1"
          >batch <b class="fig text-ink">{{ view.batch }}</b>,</span
        >
        poured {{ day(view.started) }}; day {{ Math.floor(hours / 24) + 1 }}
        <span v-if="rest.waiting.value" class="font-semibold text-ink" role="status">
          · {{ rest.waiting.value }} not saved yet</span
        >
        <span v-else-if="rest.away.value" class="font-semibold text-ink" role="status">
          · the server does not answer; what you tap is kept here</span
        >
      </p>
      <div class="grid items-start gap-x-8 gap-y-3 md:grid-cols-[minmax(0,1fr)_minmax(20rem,27rem)]">
        <div>
          <h1 class="text-4xl leading-tight font-bold max-sm:text-3xl" data-test="headline">
            <template v-if="next">{{ headline }}</template>
            <template v-else>Nothing waits: it is done</template>
          </h1>
          <p v-if="view.harm" class="message pt-1 text-lg" role="alert" data-test="harm">{{ view.harm }}</p>
          <p v-if="then" class="pt-1 text-lg font-semibold" data-test="then">
            Then {{ told(then, `${then.message[0]?.toLowerCase()}${then.message.slice(1)}`) }}.
            <span v-if="then.after" class="font-normal text-quiet">Later it {{ then.after }}.</span>
          </p>
          <p
            v-for="d in view.doubts"
            :key="d.target"
            class="flex flex-wrap items-baseline gap-3 pt-2"
            role="alert"
          >
            <span class="message text-base!">{{ d.label }}: {{ d.message }}</span>
            <button type="button" class="key" @click="rest.answer(d.target, true)">Keep it</button>
            <button type="button" class="key" @click="rest.answer(d.target, false)">Take it back</button>
          </p>
          <p v-if="view.together.length" class="pt-1" data-test="together">
            In one mould with
            <template v-for="(t, n) in view.together" :key="t.id"
              ><template v-if="n">, </template
              ><RouterLink :to="`/pours/${t.id}/rest`" class="underline">{{ t.recipe }}</RouterLink> of
              {{ day(t.started) }}</template
            >: what is done to the block is told of all.
          </p>
          <p v-if="view.now.mist" class="pt-1 text-sm font-semibold text-iron">
            {{ view.now.mist }}
          </p>
        </div>
        <div>
          <div class="grid grid-cols-2 gap-2" data-test="keys">
            <button
              v-for="(k, n) in keys"
              :key="k.label"
              type="button"
              class="key min-h-14! px-2! text-center leading-tight font-bold whitespace-normal!"
              :class="n === 0 ? 'key-main' : ''"
              @click="press(k.event)"
            >
              {{ k.label }}
            </button>
          </div>
          <div
            v-if="next?.what === 'cut' && keys.length"
            class="flex flex-wrap items-baseline gap-x-5 pt-1.5"
          >
            <label class="note flex items-baseline gap-1.5"
              >bars, of {{ view.bars || '—' }} planned
              <input v-model="cut.bars" class="field fig w-14 text-right text-base" inputmode="numeric" />
            </label>
            <label class="note flex items-baseline gap-1.5"
              >offcuts, {{ ownUnit('g') }}
              <input v-model="cut.offcuts" class="field fig w-16 text-right text-base" inputmode="decimal" />
            </label>
            <span v-if="faults.cut" class="message w-full" role="alert">{{ faults.cut }}</span>
          </div>
          <JudgeRows
            v-if="judging"
            :asking="asking"
            :portions="view.portions.map((p) => p.name)"
            @tap="rest.tap"
          />
          <WeighForm v-if="weighing" :bars="view.now.bars" @tap="rest.tap" />
          <label
            v-if="keys.length || judging || weighing"
            class="note flex flex-wrap items-baseline gap-2 pt-1.5"
          >
            not just now, but at
            <input
              v-model="rest.earlier.value"
              type="datetime-local"
              class="field"
              aria-label="When it happened"
            />
          </label>
        </div>
      </div>

      <Windows class="mt-4" :rest="view.now" :ended="ended" :hours="hours" :now="now" />
      <p class="note pt-1">
        <template v-for="r in view.now.reasons" :key="r.message"
          >{{ r.message }} × {{ fixed(r.times, 2) }} ·
        </template>
        {{
          view.fresh
            ? view.now.learned || 'By common practice so far: every cut you tap makes it yours.'
            : 'Your log is still being read: windows may move.'
        }}
      </p>

      <section class="pt-4" aria-labelledby="gel">
        <div class="ledger-head flex-wrap [--hue:var(--color-pot)]">
          <h2 id="gel">Gel, through the mould</h2>
          <span class="note"
            >solid likely, hatched possible, blank not;
            {{ wrapOpen ? 'tap how it rests' : 'as reckoned' }}</span
          >
          <span class="ml-auto flex items-center gap-1.5 text-sm">
            <span class="text-quiet">seen</span>
            <button
              v-for="(words, how) in GEL"
              :key="how"
              type="button"
              class="key min-h-9!"
              :class="gelSeen === how ? 'key-main' : ''"
              :aria-pressed="gelSeen === how"
              @click="rest.tap({ kind: 'gel', how })"
            >
              {{ words }}
            </button>
          </span>
        </div>
        <GelSections
          v-if="sections.data.value"
          class="pt-2"
          :sections="sections.data.value.sections"
          :cover="view.now.cover"
          :open="wrapOpen"
          @choose="choose"
        />
        <p v-else class="note py-6" role="status">Reckoning the heat …</p>
      </section>

      <div class="grid gap-x-9 gap-y-5 pt-5 md:grid-cols-2">
        <section aria-labelledby="weight">
          <div class="ledger-head">
            <h2 id="weight">A bar weighs</h2>
            <span class="note">water gone {{ cured }}</span>
          </div>
          <template v-for="b in view.now.bars" :key="b.mould">
            <p v-if="view.now.bars.length > 1" class="pt-1 text-sm font-semibold">
              {{ b.count }} from the {{ b.name }}
            </p>
            <CureCurve :bars="b" />
          </template>
          <WeighForm v-if="!weighing" :bars="view.now.bars" @tap="rest.tap" />
          <p v-if="view.now.got" class="pt-1">Cut: {{ view.now.got }}.</p>
          <BarsForm
            v-if="view.now.cut_at !== null"
            :counted="view.now.counted"
            :planned="view.bars"
            @tap="rest.tap"
          />
          <p class="note pt-1">
            A test on the tongue or a strip is your own note, and no proof of safety; local rules come first.
          </p>
        </section>

        <section v-if="asking.length && !judging" aria-labelledby="judge">
          <div class="ledger-head">
            <h2 id="judge">Judge it {{ MOMENTS[asking[0]!.at] }}</h2>
            <span class="note">three questions, when you care to</span>
          </div>
          <JudgeRows :asking="asking" :portions="view.portions.map((p) => p.name)" @tap="rest.tap" />
        </section>
        <CameOut v-if="view.now.cut_at !== null || view.came" :came="view.came" @tap="rest.tap" />
        <Swatches :view="view" :hours="hours" @tap="rest.tap" />
        <NextTime :view="view" @tap="rest.tap" @take-back="rest.undo" />
        <DueDates v-if="view.dated" :dated="view.dated" :now="now" />
        <Pictures :id="id" :view="view" :hours="hours" @tap="rest.tap" @refresh="rest.refresh" />
      </div>

      <AnythingElse class="pt-5" :view="view" @tap="rest.tap" />
      <SincePour :id="id" class="pt-4" :view="view" :now="now" @undo="rest.undo" />
    </template>
  </div>
</template>
