<script setup lang="ts">
/** What stands on bars that are sold: how batches are numbered, who made it, how long it is best. */
import { computed, reactive, ref, watch } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import { useRefresh } from '../api/queries'
import { inField, readNumber } from '../support/quantity'
import { moneyHere } from '../support/money'
import { units } from '../support/units'

const props = defineProps<{ selling: Schemas['Selling']; example: string }>()
const refresh = useRefresh()
const typed = reactive({ pattern: '', maker: '', months: '', packaging: '', hour: '', beside: '' })
const message = ref<Record<string, string>>({})
const told = ref('')
const paid = computed(() => units.money || moneyHere() || 'your money')
const COSTS = computed(() => ({
  packaging: `packaging of a bar, ${paid.value}`,
  hour: `an hour of work, ${paid.value}`,
  beside: 'minutes of work in a batch beside its pour: weighing, cutting, wrapping',
}))
const AT = { packaging: '/packaging', hour: '/hour', beside: '/minutes_beside' }
watch(
  () => JSON.stringify(props.selling),
  () => {
    typed.pattern = props.selling.pattern ?? ''
    typed.maker = props.selling.maker ?? ''
    typed.months = props.selling.best_months ? String(props.selling.best_months) : ''
    typed.packaging = props.selling.packaging ? inField(props.selling.packaging) : ''
    typed.hour = props.selling.hour ? inField(props.selling.hour) : ''
    typed.beside = props.selling.minutes_beside ? inField(props.selling.minutes_beside) : ''
  },
  { immediate: true },
)
/** Nothing typed is nothing paid. */
function figure(of: string): number | null {
  const read = of.trim() ? readNumber(of) : 0
  return read === null || read < 0 ? null : read
}
async function save() {
  message.value = {}
  told.value = ''
  const months = typed.months.trim() ? readNumber(typed.months) : 0
  if (months === null || !Number.isInteger(months) || months < 0) {
    message.value['/best_months'] = 'Whole months, or nothing.'
    return
  }
  const [packaging, hour, minutes_beside] = [
    figure(typed.packaging),
    figure(typed.hour),
    figure(typed.beside),
  ]
  if (packaging === null) message.value['/packaging'] = 'This is not an amount.'
  if (hour === null) message.value['/hour'] = 'This is not an amount.'
  if (minutes_beside === null) message.value['/minutes_beside'] = 'These are not minutes.'
  if (packaging === null || hour === null || minutes_beside === null) return
  try {
    await take(
      api.PUT('/api/settings/selling', {
        body: {
          pattern: typed.pattern.trim(),
          maker: typed.maker.trim(),
          best_months: months,
          packaging,
          hour,
          minutes_beside,
        },
      }),
    )
    await refresh('settings', 'pours', 'rest')
    told.value = 'Saved.'
  } catch (problem) {
    if (!(problem instanceof Refused)) throw problem
    for (const e of problem.problem.errors) message.value[e.pointer] = e.message
  }
}
</script>

<template>
  <form class="grid gap-x-6 gap-y-3 sm:grid-cols-2" @submit.prevent="save">
    <label class="flex flex-col">
      <span class="note">batch numbers, such as {yy}{month}-{nn}; empty: none</span>
      <input v-model="typed.pattern" class="field fig" maxlength="60" :aria-invalid="!!message['/pattern']" />
      <span v-if="message['/pattern']" class="message" role="alert">{{ message['/pattern'] }}</span>
      <span v-else-if="props.selling.pattern" class="note"
        >the twelfth batch of this year: <b class="fig">{{ props.example }}</b></span
      >
    </label>
    <label class="flex flex-col">
      <span class="note">best before, months after the pour; empty: not said</span>
      <input
        v-model="typed.months"
        class="field fig w-20 text-right"
        inputmode="numeric"
        :aria-invalid="!!message['/best_months']"
      />
      <span v-if="message['/best_months']" class="message" role="alert">{{ message['/best_months'] }}</span>
    </label>
    <label class="flex flex-col sm:col-span-2">
      <span class="note">who made it, on labels: name, address</span>
      <textarea v-model="typed.maker" class="field" rows="2" maxlength="400" />
    </label>
    <label v-for="(words, key) in COSTS" :key="key" class="flex flex-col">
      <span class="note">{{ words }}</span>
      <input
        v-model="typed[key]"
        class="field fig w-28 text-right"
        inputmode="decimal"
        :aria-invalid="!!message[AT[key]]"
      />
      <span v-if="message[AT[key]]" class="message" role="alert">{{ message[AT[key]] }}</span>
    </label>
    <p class="flex items-center gap-3 sm:col-span-2">
      <button type="submit" class="key">Save for labels and costs</button>
      <span v-if="told" class="note" role="status">{{ told }}</span>
    </p>
  </form>
</template>
