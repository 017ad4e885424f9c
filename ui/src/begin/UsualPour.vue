<script setup lang="ts">
/** How warm it is usually poured, and the room: new recipes begin with these. */
import { reactive, ref, watch } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import { useRefresh } from '../api/queries'
import { inField, ownUnit, readAgain } from '../support/quantity'
import { units } from '../support/units'

const props = defineProps<{ usual: Schemas['UsualPour'] }>()
const refresh = useRefresh()
const FIELDS = { pour_celsius: 'batter, poured at', room_celsius: 'the room' } as const
const typed = reactive({ pour_celsius: '', room_celsius: '' })
const message = ref<Record<string, string>>({})
const told = ref('')
watch(
  () => JSON.stringify([props.usual, units.warmth]),
  () => {
    for (const key of ['pour_celsius', 'room_celsius'] as const)
      typed[key] = props.usual[key] == null ? '' : inField(props.usual[key], '°C', 1)
  },
  { immediate: true },
)
async function keep() {
  message.value = {}
  told.value = ''
  const read = (key: keyof typeof typed) => {
    if (!typed[key].trim()) return null
    const value = readAgain(typed[key], props.usual[key] ?? null, '°C', 1)
    if (value === null) message.value[`/${key}`] = 'This is not a number.'
    return value
  }
  const body = { pour_celsius: read('pour_celsius'), room_celsius: read('room_celsius') }
  if (Object.keys(message.value).length) return
  try {
    await take(api.PUT('/api/settings/usual', { body }))
    await refresh('settings', 'starters')
    told.value = 'Kept: new recipes begin so.'
  } catch (problem) {
    if (!(problem instanceof Refused)) throw problem
    for (const e of problem.problem.errors) message.value[e.pointer] = e.message
  }
}
</script>

<template>
  <form class="flex flex-wrap items-end gap-x-6 gap-y-2" @submit.prevent="keep">
    <label v-for="(words, key) in FIELDS" :key="key" class="flex flex-col">
      <span class="note">{{ words }}, {{ ownUnit('°C') }}</span>
      <input
        v-model="typed[key]"
        class="field fig w-20 text-right"
        placeholder="—"
        :aria-invalid="!!message[`/${key}`]"
      />
      <span v-if="message[`/${key}`]" class="message" role="alert">{{ message[`/${key}`] }}</span>
    </label>
    <button type="submit" class="key">Save</button>
    <span v-if="told" class="note" role="status">{{ told }}</span>
  </form>
</template>
