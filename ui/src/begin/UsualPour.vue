<script setup lang="ts">
/** How warm it is usually poured, and the room: new recipes begin with these. */
import { reactive, watch } from 'vue'
import { api, fault, take, type Schemas } from '../api/client'
import { useWrite } from '../api/writes'
import { inField, ownUnit, readAgain } from '../support/quantity'
import { units } from '../support/units'

const props = defineProps<{ usual: Schemas['UsualPour'] }>()
const FIELDS = { pour_celsius: 'batter, poured at', room_celsius: 'the room' } as const
const typed = reactive({ pour_celsius: '', room_celsius: '' })
watch(
  () => JSON.stringify([props.usual, units.warmth]),
  () => {
    for (const key of ['pour_celsius', 'room_celsius'] as const)
      typed[key] = props.usual[key] == null ? '' : inField(props.usual[key], '°C', 1)
  },
  { immediate: true },
)
const { run, refuse, at, faults, written } = useWrite(
  (body: Schemas['UsualPour']) => take(api.PUT('/api/settings/usual', { body })),
  { touches: ['settings', 'starters'] },
)
function keep() {
  const wrong: string[] = []
  const read = (key: keyof typeof typed) => {
    if (!typed[key].trim()) return null
    const value = readAgain(typed[key], props.usual[key] ?? null, '°C', 1)
    if (value === null) wrong.push(`/${key}`)
    return value
  }
  const body = { pour_celsius: read('pour_celsius'), room_celsius: read('room_celsius') }
  if (!refuse(wrong.map((pointer) => fault(pointer, 'This is not a number.')))) void run(body)
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
        :aria-invalid="!!at(`/${key}`)"
      />
      <span v-if="at(`/${key}`)" class="message" role="alert">{{ at(`/${key}`) }}</span>
    </label>
    <button type="submit" class="key">Save</button>
    <span v-if="at('')" class="message" role="alert">{{ at('') }}</span>
    <span v-else-if="written && !faults.length" class="note" role="status">Saved: new recipes begin so.</span>
  </form>
</template>
