<script setup lang="ts">
/** A batch at rest: what to touch next, and when; all else below, for who looks longer. */
import { ownUnit, readNumber } from '../support/quantity'
import { computed, reactive, ref } from 'vue'
import { api, Refused, send, take, type Schemas } from '../api/client'
import CureCurve from '../rest/CureCurve.vue'
import DueDates from '../rest/DueDates.vue'
import GelSections from '../rest/GelSections.vue'
import JudgeRows from '../rest/JudgeRows.vue'
import NextTime from '../rest/NextTime.vue'
import PickColour from '../rest/PickColour.vue'
import Swatches from '../rest/Swatches.vue'
import WeighForm from '../rest/WeighForm.vue'
import Windows from '../rest/Windows.vue'
import { useRest } from '../rest/useRest'
import { day } from '../support/format'
import { onlyBench } from '../support/me'
import { shrunk } from '../support/picture'
import { asked, printed } from '../support/paper'
import { due, moment, spanWords, whenWords } from '../support/when'
import { fixed } from '../support/decimal'

const props = defineProps<{ id: string }>()
const rest = useRest(props.id)
const { view, sections, now, ended, hours } = rest

const next = computed(() => view.value?.now.next[0])
const then = computed(() => view.value?.now.next[1])
const at = (h: number) => new Date(ended.value.getTime() + h * 3_600_000)
const headline = computed(() =>
  next.value
    ? `${next.value.message}${next.value.what === 'cover' ? '' : `: ${whenWords(next.value, ended.value, now.value)}`}`
    : '',
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
/** Poured onto, or under, another batch: from then on they are one block. */
function join(change: Event) {
  const other = (change.target as HTMLSelectElement).value
  if (other) void rest.tap({ kind: 'join', other })
}
const ph = ref('')
function strip() {
  const read = readNumber(ph.value)
  faults.value = {}
  if (read === null || read < 0 || read > 14) faults.value = { ph: 'pH runs from 0 to 14.' }
  else {
    void rest.tap({ kind: 'test', ph: read })
    ph.value = ''
  }
}
const picking = ref<Schemas['PhotoView'] | null>(null)
const working = ref(false)
async function upload(change: Event) {
  const input = change.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  faults.value = {}
  working.value = true
  try {
    const form = new FormData()
    form.append('file', await shrunk(file))
    form.append('days', String(Math.max(0, Math.floor(hours.value / 24))))
    form.append('note', '')
    await send(`/api/pours/${props.id}/photos`, form)
    await rest.refresh()
  } catch (error) {
    faults.value = {
      photo:
        error instanceof Refused
          ? (error.problem.errors[0]?.message ?? error.message)
          : (error as Error).message,
    }
  } finally {
    working.value = false
    input.value = ''
  }
}
async function putAway(photo: string) {
  await take(api.DELETE('/api/photos/{photo_id}', { params: { path: { photo_id: photo } } }))
  await rest.refresh()
}
const wrapOpen = computed(() => !!view.value && view.value.now.cut_at === null && hours.value < 24)
const choose = (how: Schemas['Section']['wrap']) => rest.tap({ kind: 'wrap', how })
const gelSeen = computed(() => view.value?.now.gel ?? null)
const CAME = { drawn: 'as drawn', different: 'different, would sell', lost: 'lost' } as const
const GEL = { none: 'none', ring: 'ring', full: 'full' } as const
const cured = computed(
  () => view.value && spanWords(at(view.value.now.cured.low), at(view.value.now.cured.high), now.value),
)
const told = (minute: number) =>
  moment(new Date(Date.parse(view.value?.started ?? '') + minute * 60_000), now.value)
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
            Then {{ then.message[0]?.toLowerCase() }}{{ then.message.slice(1) }}:
            {{ whenWords(then, ended, now) }}.
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
        <section v-if="view.now.cut_at !== null || view.came" aria-labelledby="came">
          <div class="ledger-head">
            <h2 id="came">How did it come out?</h2>
            <span class="note">teaches what this technique takes</span>
          </div>
          <div class="flex flex-wrap gap-2 pt-2">
            <button
              v-for="(words, came) in CAME"
              :key="came"
              type="button"
              class="key min-h-12!"
              :class="view.came === came ? 'key-main' : ''"
              :aria-pressed="view.came === came"
              @click="view.came !== came && rest.tap({ kind: 'verdict', came })"
            >
              {{ words }}
            </button>
          </div>
        </section>
        <Swatches :view="view" :hours="hours" @tap="rest.tap" />
        <NextTime :view="view" @tap="rest.tap" @take-back="rest.undo" />
        <DueDates v-if="view.dated" :dated="view.dated" :now="now" />
        <section aria-labelledby="pictures">
          <div class="ledger-head">
            <h2 id="pictures">Pictures</h2>
            <span class="ml-auto flex gap-4 text-sm">
              <span v-if="working" role="status">keeping it …</span>
              <label class="cursor-pointer underline focus-within:outline-3 sm:hidden">
                take one
                <input
                  type="file"
                  accept="image/*"
                  capture="environment"
                  class="sr-only"
                  :disabled="working"
                  @change="upload"
                />
              </label>
              <label class="cursor-pointer underline focus-within:outline-3">
                add one
                <input type="file" accept="image/*" class="sr-only" :disabled="working" @change="upload" />
              </label>
            </span>
          </div>
          <p v-if="faults.photo" class="message pt-1" role="alert">{{ faults.photo }}</p>
          <p v-else-if="!view.photos.length" class="note pt-1">
            None yet: the cut face is worth one. Tap a picture to take a colour from it.
          </p>
          <PickColour
            v-if="picking"
            :key="picking.id"
            class="mt-2"
            :photo="picking"
            :portions="view.portions.map((p) => p.name)"
            @tap="rest.tap"
            @close="picking = null"
          />
          <ul class="flex flex-wrap gap-3 pt-2">
            <li v-for="p in view.photos" :key="p.id" class="w-32 text-sm">
              <button
                type="button"
                class="block focus-visible:outline-3"
                :aria-label="`Take a colour from the picture of day ${p.days}`"
                @click="picking = p"
              >
                <img
                  :src="`/api/photos/${p.id}`"
                  :alt="p.note || `day ${p.days}`"
                  class="h-22 w-32 rounded object-cover"
                />
              </button>
              day {{ p.days }} {{ p.note }}
              <button
                type="button"
                class="underline"
                :aria-label="`Put away picture of day ${p.days}`"
                @click="putAway(p.id)"
              >
                put away
              </button>
            </li>
          </ul>
        </section>
      </div>

      <details class="pt-5">
        <summary class="cursor-pointer font-bold">Anything else seen or done</summary>
        <p class="max-w-3xl pt-1 text-sm" data-test="testing">{{ view.testing }}</p>
        <div class="flex flex-wrap gap-2 pt-2">
          <button
            v-for="s in view.now.others"
            :key="s.label"
            type="button"
            class="key min-h-11!"
            @click="rest.tap(s.event)"
          >
            {{ s.label }}
          </button>
          <label v-if="view.beside.length" class="flex items-baseline gap-2">
            <span>In one mould with</span>
            <select class="field" :value="''" @change="join">
              <option value="">no other batch</option>
              <option v-for="b in view.beside" :key="b.id" :value="b.id">
                {{ b.recipe }}, {{ day(b.started) }}
              </option>
            </select>
          </label>
          <form class="flex items-baseline gap-2" @submit.prevent="strip">
            <input
              v-model="ph"
              class="field fig w-14 text-right"
              inputmode="decimal"
              placeholder="pH"
              aria-label="pH of a strip"
            />
            <button type="submit" class="key min-h-11!">Note the pH</button>
            <span v-if="faults.ph" class="message" role="alert">{{ faults.ph }}</span>
          </form>
        </div>
      </details>
      <section class="pt-4" aria-labelledby="log">
        <div class="ledger-head">
          <h2 id="log">Since the pour</h2>
          <span class="ml-auto flex flex-wrap gap-x-4 gap-y-1 text-sm *:inline-block *:leading-6">
            <a
              v-if="!onlyBench()"
              :href="`/api/pours/${id}/record.pdf?${printed()}`"
              class="underline"
              download
              >Record of the batch</a
            >
            <a :href="`/api/pours/${id}/rest.ics?${asked()}`" class="underline" download
              >Next touches as a calendar file</a
            >
          </span>
        </div>
        <p v-if="!view.events.length" class="note pt-1">Nothing tapped yet.</p>
        <ol class="columns-2 gap-8 pt-1 max-sm:columns-1 lg:columns-3">
          <li v-for="e in view.events" :key="e.event.id" class="flex break-inside-avoid items-baseline gap-2">
            <span class="note w-28 shrink-0">{{ told(e.event.minute) }}</span>
            <span class="min-w-0 truncate" :title="e.label">{{ e.label }}</span>
            <button
              type="button"
              class="take-out shrink-0"
              :aria-label="`Take back ${e.label}`"
              @click="rest.undo(e.event.id)"
            >
              ×
            </button>
          </li>
        </ol>
      </section>
    </template>
  </div>
</template>
