<script setup lang="ts">
/** What stands on bars that are sold: how batches are numbered, who made it, how long it is best. */
import { computed, reactive, watch } from 'vue'
import { api, fault, take, type Fault, type Schemas } from '../api/client'
import { useWrite } from '../api/writes'
import { inField, readNumber } from '../support/quantity'
import { moneyHere } from '../support/money'
import { units } from '../support/units'

const props = defineProps<{ selling: Schemas['Selling']; example: string }>()
const typed = reactive({ pattern: '', maker: '', months: '', packaging: '', hour: '', beside: '' })
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
const { run, refuse, at, written } = useWrite(
  (body: Schemas['Selling']) => take(api.PUT('/api/settings/selling', { body })),
  { touches: ['settings', 'pours', 'rest'] },
)
function save() {
  const wrong: Fault[] = []
  const months = typed.months.trim() ? readNumber(typed.months) : 0
  if (months === null || !Number.isInteger(months) || months < 0)
    wrong.push(fault('/best_months', 'Whole months, or nothing.'))
  const paid = (of: string, pointer: string, message: string) => {
    const read = figure(of)
    if (read === null) wrong.push(fault(pointer, message))
    return read ?? 0
  }
  const body = {
    pattern: typed.pattern.trim(),
    maker: typed.maker.trim(),
    best_months: months ?? 0,
    packaging: paid(typed.packaging, AT.packaging, 'This is not an amount.'),
    hour: paid(typed.hour, AT.hour, 'This is not an amount.'),
    minutes_beside: paid(typed.beside, AT.beside, 'These are not minutes.'),
  }
  if (!refuse(wrong)) void run(body)
}
</script>

<template>
  <form class="grid gap-x-6 gap-y-3 sm:grid-cols-2" @submit.prevent="save">
    <label class="flex flex-col">
      <span class="note">batch numbers, such as {yy}{month}-{nn}; empty: none</span>
      <input v-model="typed.pattern" class="field fig" maxlength="60" :aria-invalid="!!at('/pattern')" />
      <span v-if="at('/pattern')" class="message" role="alert">{{ at('/pattern') }}</span>
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
        :aria-invalid="!!at('/best_months')"
      />
      <span v-if="at('/best_months')" class="message" role="alert">{{ at('/best_months') }}</span>
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
        :aria-invalid="!!at(AT[key])"
      />
      <span v-if="at(AT[key])" class="message" role="alert">{{ at(AT[key]) }}</span>
    </label>
    <p class="flex items-center gap-3 sm:col-span-2">
      <button type="submit" class="key">Save for labels and costs</button>
      <span v-if="at('')" class="message" role="alert">{{ at('') }}</span>
      <span v-else-if="written" class="note" role="status">Saved.</span>
    </p>
  </form>
</template>
