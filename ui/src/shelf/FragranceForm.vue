<script setup lang="ts">
/** What is on the bottle: its name, its kind, and what the supplier claims. Never what was seen. */
import { readNumber } from '../support/quantity'
import { computed, reactive, ref, useId } from 'vue'
import type { Fault, Fragrance, NewFragrance } from '../api/client'
import { useShelf } from '../api/queries'
import { CLAIM_WORDS, COLOUR_WORDS, FAMILY_WORDS, RICING_WORDS, percent } from '../support/format'

const props = defineProps<{ fragrance?: Fragrance; refused: readonly Fault[]; save: string }>()
const emit = defineEmits<{ save: [fragrance: NewFragrance] }>()

const id = useId()
const { data: shelf } = useShelf()
const elders = computed(() => (shelf.value?.fragrances ?? []).filter((f) => f.id !== props.fragrance?.id))
const form = reactive({
  name: props.fragrance?.name ?? '',
  family: props.fragrance?.family ?? 'other',
  claim: props.fragrance?.claim ?? 'unknown',
  claim_words: props.fragrance?.claim_words ?? '',
  note: props.fragrance?.note ?? '',
  essential: props.fragrance?.essential ?? false,
  ricing: props.fragrance?.ricing ?? 'unknown',
  discolours: props.fragrance?.discolours ?? 'unknown',
  source: props.fragrance?.source ?? '',
  stated: props.fragrance?.stated ?? '',
  inherits: props.fragrance?.inherits ?? (null as string | null),
  bottled: props.fragrance?.bottled ?? false,
  code: props.fragrance?.code ?? '',
})
const parts = ref(
  (props.fragrance?.parts ?? []).map((p) => ({ fragrance: p.fragrance, percent: shown(p.share) })),
)
/** A blend weighed from its parts' bottles has nothing on a bottle of its own. */
const fromParts = computed(() => parts.value.length > 0 && !form.bottled)
function blend() {
  parts.value = parts.value.length
    ? []
    : elders.value.slice(0, 2).map((f) => ({ fragrance: f.id, percent: '50' }))
}
function shown(share: number | null | undefined) {
  return share == null ? '' : percent(share, 4)
}
const SHARES = {
  vanillin: { label: 'vanillin, % (empty when not stated)', wrong: 'Vanillin runs from 0 to 100 %.' },
  limit: {
    label: 'limit in the finished bar, % (its certificate)',
    wrong: 'A limit is above 0 and at most 100 %.',
  },
}
type Share = keyof typeof SHARES
const percents = reactive({
  vanillin: shown(props.fragrance?.vanillin),
  limit: shown(props.fragrance?.limit),
})
const allergens = ref((props.fragrance?.allergens ?? []).join(', '))
const wrongParts = ref('')
const unreadable = reactive({ vanillin: '', limit: '' })
/** What makers wrote of it, counted by hand. */
const REVIEWS = { calm: 'no trouble', faster: 'faster', riced: 'riced', seized: 'seized' }
type Review = keyof typeof REVIEWS
const counted = reactive(
  Object.fromEntries(
    Object.keys(REVIEWS).map((key) => [key, String(props.fragrance?.reviews?.[key as Review] || '')]),
  ) as Record<Review, string>,
)
const wrongCount = ref('')
const at = computed(() => (pointer: string) => props.refused.find((e) => e.pointer === pointer)?.message)

/** A share typed in percent; empty is "not stated", and what is no number is said so. */
function share(of: Share): number | null {
  const text = percents[of].trim()
  const read = readNumber(text)
  unreadable[of] = text === '' || read !== null ? '' : 'This is not a number.'
  return read === null ? null : read / 100
}

function send() {
  const shares = { vanillin: share('vanillin'), limit: share('limit') }
  const named = allergens.value
    .split(',')
    .map((a) => a.trim())
    .filter(Boolean)
  const typed = parts.value.map((p) => ({
    fragrance: p.fragrance,
    share: (readNumber(p.percent) ?? NaN) / 100,
  }))
  wrongParts.value = typed.some((p) => !(p.share > 0 && p.share <= 1))
    ? 'A share is above 0 and at most 100 %.'
    : ''
  const reviews = { calm: 0, faster: 0, riced: 0, seized: 0 }
  wrongCount.value = ''
  for (const key of Object.keys(REVIEWS) as Review[]) {
    const read = counted[key].trim() === '' ? 0 : readNumber(counted[key])
    if (read === null || read < 0 || !Number.isInteger(read))
      wrongCount.value = 'Count reviews in whole numbers.'
    else reviews[key] = read
  }
  if (!unreadable.vanillin && !unreadable.limit && !wrongParts.value && !wrongCount.value)
    emit('save', {
      ...form,
      ...shares,
      allergens: named,
      parts: typed,
      reviews,
      known_as: props.fragrance?.known_as ?? [],
    })
}
</script>

<template>
  <form
    class="grid gap-x-8 gap-y-3 border-l-4 border-stir bg-chalk px-5 py-4 md:grid-cols-3"
    @submit.prevent="send"
  >
    <div class="flex flex-col">
      <label class="note" :for="`${id}-name`">name</label>
      <input
        :id="`${id}-name`"
        v-model="form.name"
        class="field text-lg"
        maxlength="80"
        required
        :aria-invalid="!!at('/name')"
      />
      <span v-if="at('/name')" class="message" role="alert">{{ at('/name') }}</span>
    </div>
    <fieldset v-if="elders.length > 1 || parts.length" class="md:col-span-2">
      <legend class="sr-only">Parts of a blend</legend>
      <label class="flex items-center gap-1.5">
        <input type="checkbox" class="size-4 accent-ink" :checked="parts.length > 0" @change="blend" />
        a blend of others on the shelf
      </label>
      <div v-for="(p, i) in parts" :key="i" class="flex flex-wrap items-baseline gap-2 pt-1">
        <select v-model="p.fragrance" class="field" :aria-label="`Part ${i + 1}`">
          <option v-for="f in elders" :key="f.id" :value="f.id">{{ f.name }}</option>
        </select>
        <input
          v-model="p.percent"
          class="field fig w-16 text-right"
          inputmode="decimal"
          :aria-label="`Percent of part ${i + 1}`"
        />
        <span class="unit">%</span>
        <button type="button" class="take-out" aria-label="Take this part out" @click="parts.splice(i, 1)">
          ×
        </button>
        <span v-if="at(`/parts/${i}/fragrance`)" class="message" role="alert">{{
          at(`/parts/${i}/fragrance`)
        }}</span>
      </div>
      <button
        v-if="parts.length && parts.length < 6"
        type="button"
        class="text-sm underline"
        @click="parts.push({ fragrance: elders[0]?.id ?? '', percent: '' })"
      >
        one more
      </button>
      <span v-if="wrongParts || at('/parts')" class="message block" role="alert">{{
        wrongParts || at('/parts')
      }}</span>
    </fieldset>
    <template v-if="!fromParts">
      <label class="flex flex-col">
        <span class="note">kind of scent</span>
        <select v-model="form.family" class="field">
          <option v-for="(words, key) in FAMILY_WORDS" :key="key" :value="key">{{ words }}</option>
        </select>
      </label>
      <label class="flex flex-col">
        <span class="note">the supplier says of trace</span>
        <select v-model="form.claim" class="field">
          <option v-for="(words, key) in CLAIM_WORDS" :key="key" :value="key">{{ words }}</option>
        </select>
      </label>
      <label class="flex flex-col">
        <span class="note">in the supplier's own words</span>
        <input v-model="form.claim_words" class="field" maxlength="400" />
      </label>
      <label class="flex flex-col">
        <span class="note">of grains (ricing)</span>
        <select v-model="form.ricing" class="field">
          <option v-for="(words, key) in RICING_WORDS" :key="key" :value="key">{{ words }}</option>
        </select>
      </label>
      <label class="flex flex-col">
        <span class="note">of colour</span>
        <select v-model="form.discolours" class="field">
          <option v-for="(words, key) in COLOUR_WORDS" :key="key" :value="key">{{ words }}</option>
        </select>
      </label>
      <div v-for="(words, field) in SHARES" :key="field" class="flex flex-col">
        <label class="note" :for="`${id}-${field}`">{{ words.label }}</label>
        <input
          :id="`${id}-${field}`"
          v-model="percents[field]"
          class="field fig"
          inputmode="decimal"
          :aria-invalid="!!(unreadable[field] || at(`/${field}`))"
        />
        <span v-if="unreadable[field] || at(`/${field}`)" class="message" role="alert">{{
          unreadable[field] || words.wrong
        }}</span>
      </div>
      <label class="flex flex-col">
        <span class="note">who says so</span>
        <input
          v-model="form.source"
          class="field"
          maxlength="200"
          placeholder="a leaflet, a page, another maker"
        />
      </label>
      <label class="flex flex-col">
        <span class="note">said on</span>
        <input v-model="form.stated" class="field" type="date" />
      </label>
      <label class="flex flex-col">
        <span class="note">another bottle or supplier of</span>
        <select v-model="form.inherits" class="field">
          <option :value="null">nothing on the shelf</option>
          <option v-for="f in elders" :key="f.id" :value="f.id">{{ f.name }}</option>
        </select>
      </label>
      <fieldset class="flex flex-wrap items-end gap-x-3">
        <legend class="note">reviews you read, counted</legend>
        <label v-for="(words, key) in REVIEWS" :key="key" class="flex flex-col">
          <span class="note">{{ words }}</span>
          <input v-model="counted[key]" class="field fig w-16 text-right" inputmode="numeric" />
        </label>
        <span v-if="wrongCount" class="message basis-full" role="alert">{{ wrongCount }}</span>
      </fieldset>
      <label class="flex flex-col">
        <span class="note">the supplier's code for it</span>
        <input v-model="form.code" class="field" maxlength="80" />
      </label>
      <label class="flex flex-col">
        <span class="note">allergens to declare, with commas</span>
        <input v-model="allergens" class="field" maxlength="1000" />
      </label>
    </template>
    <label class="flex flex-col">
      <span class="note">your note, shown whenever it is used</span>
      <input v-model="form.note" class="field" maxlength="2000" />
    </label>
    <label v-if="!fromParts" class="flex items-center gap-1.5 self-end pb-1">
      <input v-model="form.essential" type="checkbox" class="size-4 accent-ink" />
      an essential oil
    </label>
    <p v-if="fromParts" class="note self-end">
      What is claimed, its limit and its allergens come from its parts.
    </p>
    <p v-if="at('')" class="message" role="alert">{{ at('') }}</p>
    <button type="submit" class="key key-main justify-self-start md:col-span-3">{{ save }}</button>
  </form>
</template>
