<script setup lang="ts">
/** What the shelf lacks, made where it is missed: its name and the one thing the rules must know; the rest later. */
import { computed, ref } from 'vue'
import { api, fault, take, type NewFragrance } from '../api/client'
import { useShelf } from '../api/queries'
import { useWrite } from '../api/writes'
import { CLAIM_WORDS } from '../support/format'
import type { Vessel } from './moments'

const props = defineProps<{ vessel?: Vessel; name: string }>()
const emit = defineEmits<{ made: [what: 'fat' | 'scent' | 'additive', id: string]; cancel: [] }>()
const { data: shelf } = useShelf()
const name = ref(props.name)
const kind = ref<'scent' | 'additive' | 'fat'>(!props.vessel || props.vessel === 'stir' ? 'scent' : 'fat')
const claim = ref('unknown')
const like = ref('')
const alike = computed(() => {
  const all =
    kind.value === 'fat'
      ? shelf.value?.fats
      : shelf.value?.additives.filter((a) => COLOURING.value.includes(a.kind))
  return (all ?? [])
    .map(({ id, name: of }) => ({ id, name: of }))
    .sort((a, b) => a.name.localeCompare(b.name))
})
const COLOURING = computed(() => shelf.value?.colouring ?? [])

const {
  run,
  refuse,
  trouble: wrong,
} = useWrite(async () => (kind.value === 'scent' ? await scentMade() : await alikeMade()), {
  touches: ['shelf', 'fragrances', 'own'],
  done: (id) => void (id && emit('made', kind.value, id)),
  once: true,
})
const save = () =>
  refuse(kind.value !== 'scent' && !like.value ? [fault('', 'Choose what it is most like.')] : []) || run()
async function scentMade() {
  const body = { name: name.value, family: 'other', claim: claim.value } as NewFragrance
  return (await take(api.POST('/api/fragrances', { body }))).fragrances[0]?.fragrance.id
}
async function alikeMade() {
  const made = await take(
    api.POST('/api/custom', { body: { ingredient: { kind: 'like', name: name.value, like: like.value } } }),
  )
  return (made.fat ?? made.additive)?.id
}
</script>

<template>
  <form
    class="mt-1.5 flex flex-wrap items-baseline gap-x-4 gap-y-2 border-l-4 border-(--hue) bg-chalk px-3 py-2"
    @submit.prevent="save"
  >
    <label class="flex flex-col">
      <span class="note">name</span>
      <input v-model="name" class="field w-44" maxlength="80" />
    </label>
    <label v-if="!vessel || vessel === 'stir'" class="flex flex-col">
      <span class="note">it is a</span>
      <select v-model="kind" class="field">
        <option value="scent">fragrance</option>
        <option value="additive">colour</option>
        <option v-if="!vessel" value="fat">oil or butter</option>
      </select>
    </label>
    <label v-if="kind === 'scent'" class="flex flex-col">
      <span class="note">the supplier says of trace</span>
      <select v-model="claim" class="field">
        <option v-for="(words, c) in CLAIM_WORDS" :key="c" :value="c">{{ words }}</option>
      </select>
    </label>
    <label v-else class="flex flex-col">
      <span class="note">weighed and reckoned like</span>
      <select v-model="like" class="field w-44">
        <option value="" disabled>choose</option>
        <option v-for="a in alike" :key="a.id" :value="a.id">{{ a.name }}</option>
      </select>
    </label>
    <span class="flex gap-2 self-end">
      <button type="submit" class="key key-main">Save and add</button>
      <button type="button" class="key" @click="emit('cancel')">Cancel</button>
    </span>
    <p v-if="kind === 'fat'" class="note basis-full">
      Its lye is reckoned as that one’s until you give its own saponification value on the shelf.
    </p>
    <p v-if="wrong" class="message basis-full" role="alert">{{ wrong }}</p>
  </form>
</template>
