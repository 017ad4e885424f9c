<script setup lang="ts">
/** What stands on bars that are sold: how batches are numbered, who made it, how long it is best. */
import { reactive, ref, watch } from 'vue'
import { api, Refused, take, type Schemas } from '../api/client'
import { useRefresh } from '../api/queries'
import { readNumber } from '../support/quantity'

const props = defineProps<{ selling: Schemas['Selling']; example: string }>()
const refresh = useRefresh()
const typed = reactive({ pattern: '', maker: '', months: '' })
const message = ref<Record<string, string>>({})
const told = ref('')
watch(
  () => JSON.stringify(props.selling),
  () => {
    typed.pattern = props.selling.pattern ?? ''
    typed.maker = props.selling.maker ?? ''
    typed.months = props.selling.best_months ? String(props.selling.best_months) : ''
  },
  { immediate: true },
)
async function save() {
  message.value = {}
  told.value = ''
  const months = typed.months.trim() ? readNumber(typed.months) : 0
  if (months === null || !Number.isInteger(months) || months < 0) {
    message.value['/best_months'] = 'Whole months, or nothing.'
    return
  }
  try {
    await take(
      api.PUT('/api/settings/selling', {
        body: { pattern: typed.pattern.trim(), maker: typed.maker.trim(), best_months: months },
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
    <p class="flex items-center gap-3 sm:col-span-2">
      <button type="submit" class="key">Save for labels</button>
      <span v-if="told" class="note" role="status">{{ told }}</span>
    </p>
  </form>
</template>
