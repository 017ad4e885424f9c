<script setup lang="ts">
/** What this workshop reads its weights, warmth, lengths and volumes in: one tap each, kept at once. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, take } from '../api/client'
import { readIn, type Units } from '../support/units'

const props = defineProps<{ units: Units }>()
const client = useQueryClient()
const trouble = ref('')
const KINDS: { key: keyof Units; words: string; of: [string, string][] }[] = [
  {
    key: 'weight',
    words: 'weights',
    of: [
      ['g', 'g'],
      ['oz', 'oz'],
      ['lb', 'lb oz'],
    ],
  },
  {
    key: 'warmth',
    words: 'warmth',
    of: [
      ['C', '°C'],
      ['F', '°F'],
    ],
  },
  {
    key: 'length',
    words: 'lengths',
    of: [
      ['cm', 'cm'],
      ['in', 'in'],
    ],
  },
  {
    key: 'volume',
    words: 'volumes',
    of: [
      ['mL', 'mL'],
      ['fl oz', 'fl oz'],
    ],
  },
]
async function choose(key: keyof Units, value: string) {
  trouble.value = ''
  try {
    const body = { ...props.units, [key]: value } as Units
    const done = await take(api.PUT('/api/settings/units', { body }))
    readIn(done.units)
    client.setQueryData(['settings'], done)
    await client.invalidateQueries()
  } catch (problem) {
    trouble.value = (problem as Error).message
  }
}
</script>

<template>
  <div class="flex flex-col gap-1">
    <fieldset v-for="k in KINDS" :key="k.key" class="flex items-baseline gap-4">
      <legend class="note float-left w-16">{{ k.words }}</legend>
      <label v-for="[value, words] in k.of" :key="value" class="flex min-h-8 items-center gap-1.5">
        <input
          type="radio"
          class="size-4 accent-ink"
          :name="k.key"
          :checked="units[k.key] === value"
          @change="choose(k.key, value)"
        />
        {{ words }}
      </label>
    </fieldset>
    <p v-if="trouble" class="says" role="alert">{{ trouble }}</p>
  </div>
</template>
