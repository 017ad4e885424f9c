<script setup lang="ts">
/** What this workshop reads its weights, temperatures, lengths and volumes in, and its money: saved at once. */
import { useQueryClient } from '@tanstack/vue-query'
import { onMounted } from 'vue'
import { api, take } from '../api/client'
import { useWrite } from '../api/writes'
import { MONIES, moneyHere } from '../support/money'
import { readIn, units, type Units } from '../support/units'

const props = defineProps<{ first?: boolean }>()
const client = useQueryClient()
/** Where ounces, inches and degrees Fahrenheit are read, by the region this browser is set to. */
const OUNCES = ['US', 'LR', 'MM']
const OWN = { weight: 'lb', warmth: 'F', length: 'in', volume: 'fl oz' } as const
function region(): string {
  try {
    return new Intl.Locale(navigator.language).maximize().region ?? ''
  } catch {
    return '' // it names no language
  }
}
onMounted(() => {
  const own = OUNCES.includes(region())
  if (props.first && (own || moneyHere())) void save({ ...units, ...(own ? OWN : {}), money: moneyHere() })
})
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
    words: 'temperature',
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
const choose = (key: keyof Units, value: string) => save({ ...units, [key]: value } as Units)
const { run, trouble } = useWrite((body: Units) => take(api.PUT('/api/settings/units', { body })), {
  done: (settings) => {
    client.setQueryData(['settings'], settings)
    return client.invalidateQueries()
  },
})
async function save(body: Units) {
  const before = { ...units }
  readIn(body) // at once: what is chosen next begins from here
  if (!(await run(body))) readIn(before)
}
</script>

<template>
  <div class="flex flex-col gap-1">
    <fieldset v-for="k in KINDS" :key="k.key" class="flex items-baseline gap-4">
      <legend class="note float-left w-16 leading-8">{{ k.words }}</legend>
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
    <label class="flex items-center gap-4">
      <span class="note w-16 leading-8">money</span>
      <select
        class="field min-h-8"
        :value="units.money ?? ''"
        @change="choose('money', ($event.target as HTMLSelectElement).value)"
      >
        <option value="">as this browser has it{{ moneyHere() ? `, ${moneyHere()}` : '' }}</option>
        <option v-for="m in MONIES" :key="m" :value="m">{{ m }}</option>
      </select>
    </label>
    <p v-if="trouble" class="message" role="alert">{{ trouble }}</p>
  </div>
</template>
