<script setup lang="ts">
/** Once the mould is full: what went wrong, what colour it became, and what was forgotten or tapped by mistake. */
import { computed, reactive, ref } from 'vue'
import type { PourEvent, PourView } from '../api/client'
import { usePhotos } from '../api/writes'
import { eventOf, FLAGS } from './events'
import Logged from './Logged.vue'
import Offers from './Offers.vue'
import { SHADE_WORDS } from '../support/format'
import { newId } from '../support/newId'
import { readNumber } from '../support/quantity'

const props = defineProps<{ view: PourView }>()
const emit = defineEmits<{ log: [event: PourEvent]; takeBack: [id: string]; refresh: [] }>()

const portions = computed(() => props.view.recipe.design.portions.map((p) => p.name))
const ended = computed(() => props.view.ended ?? 0)
type Came = Extract<PourEvent, { kind: 'verdict' }>['came']
const CAME: Record<Came, string> = { drawn: 'as planned', different: 'sellable', lost: 'lost' }
const verdict = computed(() => {
  const told = props.view.events.flatMap((e) => (e.event.kind === 'verdict' ? [e.event] : []))
  return told.at(-1)
})
function judge(came: Came) {
  // One answer stands at a time: another takes the place of the first.
  if (verdict.value) emit('takeBack', verdict.value.id)
  if (verdict.value?.came !== came)
    emit('log', { id: newId(), minute: ended.value, sure: true, kind: 'verdict', came })
}
const flagged = computed(() =>
  props.view.events.flatMap((e) => (e.event.kind === 'flag' ? [e.event.flag] : [])),
)
const smooth = computed(() => props.view.events.some((e) => e.event.kind === 'smooth'))
/** Left out of learning, as one tap, and taken back as one. */
const leftOut = computed(() => props.view.events.find((e) => e.event.kind === 'unlearned'))
function learning() {
  if (leftOut.value) emit('takeBack', leftOut.value.event.id)
  else emit('log', { id: newId(), minute: ended.value, sure: true, kind: 'unlearned' })
}
const colour = reactive({ portion: '', days: '', shade: 'true' })
const caption = ref('')

/** Days since it was poured, which is what a colour or a picture is of unless the maker says otherwise. */
const today = computed(() =>
  Math.max(0, Math.floor((Date.now() - Date.parse(props.view.started)) / 86_400_000)),
)
const days = computed(() => readNumber(colour.days) ?? today.value)

function flag(what: string) {
  const event = eventOf({ minute: String(ended.value), what, portion: '', value: '' })
  if (typeof event !== 'string') emit('log', event)
}
const next = ref('')
function note() {
  const words = next.value.trim()
  if (!words) return
  emit('log', { id: newId(), minute: ended.value, sure: true, kind: 'next', says: words, about: 'recipe' })
  next.value = ''
}
function shade() {
  const event = eventOf({ minute: String(ended.value), what: 'smooth', portion: '', value: '' })
  if (typeof event === 'string') return
  emit('log', {
    id: event.id,
    minute: ended.value,
    sure: true,
    kind: 'colour',
    portion: colour.portion || null,
    days: days.value,
    shade: colour.shade as Extract<PourEvent, { kind: 'colour' }>['shade'],
  })
}
const photos = usePhotos(
  () => props.view.id,
  () => emit('refresh'),
)
const upload = (change: Event) => photos.pick(change, days.value, caption.value)
</script>

<template>
  <p v-if="view.harm" class="text-lg font-bold text-blush" role="alert" data-test="harm">
    {{ view.harm }}
  </p>
  <RouterLink :to="`/pours/${view.id}/rest`" class="bench-main min-h-16!" data-test="to-rest">
    It rests: when to touch it next
  </RouterLink>
  <section class="border-t border-slab pt-3" aria-label="How it came out" data-test="close">
    <p class="flex flex-wrap items-baseline gap-x-4">
      <span class="text-lg font-bold">How did it come out?</span>
      <span class="text-mist"
        >Answer when you know, at the cut perhaps: it teaches what this technique takes.</span
      >
    </p>
    <div class="grid grid-cols-3 gap-2.5 pt-2 sm:max-w-2xl">
      <button
        v-for="(words, key) in CAME"
        :key="key"
        type="button"
        class="bench-key"
        :class="verdict?.came === key ? 'bg-bone! text-ink!' : ''"
        :aria-pressed="verdict?.came === key"
        @click="judge(key)"
      >
        {{ words }}
      </button>
    </div>
    <form class="flex flex-wrap items-center gap-3 pt-3" @submit.prevent="note">
      <label class="flex min-w-64 flex-1 items-baseline gap-3">
        <span class="text-lg font-bold whitespace-nowrap">Next time</span>
        <input
          v-model="next"
          class="field w-full text-bone"
          maxlength="300"
          placeholder="what you would do otherwise: it stands on the next plan and its sheet"
        />
      </label>
      <button type="submit" class="bench-key px-4" :disabled="!next.trim()">Note it</button>
      <label class="bench-key cursor-pointer px-4 focus-within:outline-3">
        Add a picture
        <input type="file" accept="image/*" class="sr-only" @change="upload" />
      </label>
    </form>
    <Offers :pour="view.id" />
    <p v-if="photos.trouble.value" class="pt-1 text-blush" role="alert">{{ photos.trouble.value }}</p>
    <p v-if="verdict" class="pt-2 text-mist" role="status">
      {{ view.taught || 'That is all that is asked.' }} Now it rests: covered, undisturbed, and with gloves
      when you look.
    </p>
  </section>

  <section class="border-t border-slab pt-3" aria-label="What went wrong">
    <p class="text-lg font-bold">{{ smooth || flagged.length ? 'Went wrong' : 'Did anything go wrong?' }}</p>
    <div class="flex flex-wrap gap-2.5 pt-2">
      <button
        v-for="(words, key) in FLAGS"
        :key="key"
        type="button"
        class="bench-key px-4"
        :class="flagged.includes(key) ? 'bg-bone! text-ink!' : ''"
        :aria-pressed="flagged.includes(key)"
        :disabled="flagged.includes(key)"
        @click="flag(key)"
      >
        {{ words }}
      </button>
      <button
        type="button"
        class="bench-key px-4"
        :class="smooth ? 'bg-bone! text-ink!' : ''"
        :aria-pressed="smooth"
        :disabled="smooth"
        @click="flag('smooth')"
      >
        {{ flagged.length ? 'nothing else' : 'no, nothing' }}
      </button>
    </div>
    <p class="flex flex-wrap items-center gap-x-4 pt-1 text-sm text-mist">
      <span>Silence is not a no: only an answer teaches the odds.</span>
      <button type="button" class="min-h-6 underline" :aria-pressed="!!leftOut" @click="learning">
        {{ leftOut ? 'Left out of learning: take it in again' : 'Leave this pour out of learning' }}
      </button>
    </p>
  </section>

  <section class="border-t border-slab pt-3" aria-label="Colour">
    <p class="text-lg font-bold">Colour</p>
    <div class="flex flex-wrap items-end gap-x-4 gap-y-2 pt-1">
      <select
        v-model="colour.portion"
        class="field max-w-44 bg-slate text-bone"
        aria-label="Portion whose colour"
      >
        <option value="">all of it</option>
        <option v-for="p in portions" :key="p" :value="p">{{ p }}</option>
      </select>
      <select
        v-model="colour.shade"
        class="field bg-slate text-bone"
        aria-label="Colour against the one that was meant"
      >
        <option v-for="(words, key) in SHADE_WORDS" :key="key" :value="key">{{ words }}</option>
      </select>
      <label class="text-mist"
        >day
        <input
          v-model="colour.days"
          class="field fig w-12 text-right text-bone"
          :placeholder="String(today)"
          inputmode="decimal"
      /></label>
      <button type="button" class="bench-key min-h-11! px-4" @click="shade">Note the colour</button>
      <input
        v-model="caption"
        class="field text-bone"
        maxlength="200"
        placeholder="words for a picture"
        aria-label="Words for a picture"
      />
    </div>
    <ul v-if="view.photos.length" class="flex flex-wrap gap-4 pt-3">
      <li v-for="p in view.photos" :key="p.id" class="w-36 text-sm">
        <img
          :src="`/api/photos/${p.id}`"
          :alt="p.note || `day ${p.days}`"
          class="h-24 w-36 rounded object-cover"
        />
        day {{ p.days }} {{ p.note }}
        <button
          type="button"
          class="px-1 text-mist underline"
          :aria-label="`Put away picture of day ${p.days}`"
          @click="photos.remove.run(p.id)"
        >
          put away
        </button>
      </li>
    </ul>
  </section>

  <section class="border-t border-slab pt-3" aria-label="Everything logged">
    <p class="text-lg font-bold">Everything logged</p>
    <Logged :view="view" @log="(e) => emit('log', e)" @take-back="(id) => emit('takeBack', id)" />
  </section>
</template>
