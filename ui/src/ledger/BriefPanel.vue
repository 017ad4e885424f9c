<script setup lang="ts">
/** What is wanted before there is a recipe, and the dates counted back from the day it must be ready. */
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import Figure from '../fields/Figure.vue'
import TextField from '../fields/TextField.vue'
import DueDates from '../rest/DueDates.vue'
import { dueWord } from '../support/when'
import { injectDraft } from './useDraft'

type Brief = Schemas['Brief']
const draft = injectDraft()
const brief = computed(() => draft.recipe.value?.brief ?? null)
const dated = computed(() => draft.foretold.value?.dated ?? null)
const now = new Date()
const WORDS = [
  { key: 'whom', label: 'for', hint: 'whom it is made for' },
  { key: 'scent', label: 'scent', hint: 'what it smells of' },
  { key: 'palette', label: 'palette', hint: 'its colours' },
  { key: 'top', label: 'top', hint: 'what stands on it' },
] as const
const DAYS = [
  { key: 'ready', label: 'ready on' },
  { key: 'sale', label: 'on sale' },
] as const
/** The day that all is counted back from, as the server reckons it too. */
const due = computed(() => dueWord(brief.value, now))
/** A brief that says something stands open. */
const open = ref(
  !!brief.value &&
    [...WORDS.map((w) => brief.value?.[w.key]), brief.value.bars, brief.value.ready, brief.value.sale].some(
      Boolean,
    ),
)
const BLANK: Brief = {
  scent: '',
  palette: '',
  top: '',
  whom: '',
  bars: null,
  ready: null,
  sale: null,
  build_days: 1,
  embeds_days: 0,
  days: [],
  planned: '',
}
function change(what: string, make: (b: Brief) => void) {
  draft.edit(`/brief/${what}`, (d) => {
    const next = { ...BLANK, ...d.brief }
    make(next)
    d.brief = next
  })
}
const message = ref('')
/** What cannot be read stays in its field, with why; the draft keeps what it had. */
function bars(typed: string) {
  const text = typed.trim()
  message.value = text && !/^[1-9]\d{0,4}$/.test(text) ? 'Bars are a whole number.' : ''
  if (!message.value) change('bars', (b) => void (b.bars = text ? Number(text) : null))
}
const summary = computed(() => {
  const b = brief.value
  if (!b) return 'none yet: say what is wanted, and by when'
  const parts = [b.whom && `for ${b.whom}`, b.scent, b.palette, b.top, b.bars ? `${b.bars} bars` : '']
  return parts.filter(Boolean).join(' · ')
})
</script>

<template>
  <section class="border-b border-rule py-1.5" aria-label="Brief" data-test="brief">
    <div class="flex flex-wrap items-baseline gap-x-3">
      <button type="button" class="min-h-6 font-bold" :aria-expanded="open" @click="open = !open">
        {{ open ? '−' : '+' }} Brief
      </button>
      <span class="min-w-0 truncate text-quiet">{{ summary }}</span>
      <span v-if="due" class="font-semibold" :class="dated?.met === 'late' ? 'text-iron' : ''">
        {{ due }}<template v-if="dated && !open">: {{ dated.message }}</template>
      </span>
    </div>
    <div v-if="open" class="grid gap-x-9 gap-y-3 pt-2 pb-1 md:grid-cols-[minmax(0,1fr)_minmax(0,1.3fr)]">
      <div class="flex flex-col gap-1.5">
        <label v-for="w in WORDS" :key="w.key" class="flex items-baseline gap-2">
          <span class="note w-16">{{ w.label }}</span>
          <TextField
            class="flex-1"
            :most="160"
            :placeholder="w.hint"
            :model-value="brief?.[w.key] ?? ''"
            @update:model-value="(text) => change(w.key, (b) => void (b[w.key] = text))"
          />
        </label>
        <div class="flex flex-wrap items-baseline gap-x-5 gap-y-1.5">
          <label v-for="d in DAYS" :key="d.key" class="flex items-baseline gap-2"
            ><span class="note w-16">{{ d.label }}</span>
            <TextField
              type="date"
              lazy
              :model-value="brief?.[d.key] ?? ''"
              @update:model-value="(day) => change(d.key, (b) => void (b[d.key] = day || null))"
            />
          </label>
          <label class="flex items-baseline gap-2"
            ><span class="note">bars</span>
            <TextField
              class="fig w-14 text-right"
              inputmode="numeric"
              :model-value="String(brief?.bars ?? '')"
              :faulty="!!message"
              @update:model-value="bars"
            />
          </label>
          <span v-if="message" class="message" role="alert">{{ message }}</span>
        </div>
        <div v-if="brief" class="flex gap-x-6">
          <span v-if="(draft.weighed.value?.days ?? 1) > 1" class="note self-center"
            >{{ draft.weighed.value?.days }} days of building, by its plan</span
          >
          <Figure v-else pointer="/brief/build_days" label="days of building" width="w-12" />
          <Figure pointer="/brief/embeds_days" label="embeds, days before" width="w-12" />
        </div>
      </div>
      <DueDates v-if="dated" :dated="dated" :now="now" />
      <p v-else class="note self-center">
        {{
          due
            ? 'The dates follow once the recipe can be weighed.'
            : 'Name the day it must be ready, or is sold: everything before it is counted back.'
        }}
      </p>
    </div>
  </section>
</template>
