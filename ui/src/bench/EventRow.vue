<script setup lang="ts">
/** One line of a notebook: when, what, in which portion, and a figure where one belongs. */
import { computed } from 'vue'
import { ofFolds, ofSteps, VALUED, WHAT, WHOLE, WORDED, type Row } from './events'

const props = withDefaults(
  defineProps<{
    portions: string[]
    steps?: readonly { key: string; label: string }[]
    message?: string
    dark?: boolean
  }>(),
  { steps: () => [], message: '', dark: false },
)
const words = computed(() => ({
  ...WHAT,
  ...ofSteps(props.steps),
  ...(props.portions.length > 1 ? ofFolds(props.portions) : {}),
}))
const row = defineModel<Row>({ required: true })
</script>

<template>
  <span class="flex flex-wrap items-baseline gap-x-3 gap-y-1">
    <input
      v-model="row.minute"
      class="field fig w-16 text-right"
      :class="dark ? 'text-bone focus:bg-slab' : ''"
      placeholder="m:ss"
      aria-label="Minute"
      :aria-invalid="!!message"
    />
    <select
      v-model="row.what"
      class="field max-w-64"
      :class="dark ? 'bg-slate text-bone' : ''"
      aria-label="What was seen or done"
    >
      <option v-for="(said, key) in words" :key="key" :value="key">{{ said }}</option>
    </select>
    <select
      v-if="!WHOLE.has(row.what)"
      v-model="row.portion"
      class="field max-w-44"
      :class="dark ? 'bg-slate text-bone' : ''"
      aria-label="Portion"
    >
      <option value="">the pot, or all</option>
      <option v-for="p in portions" :key="p" :value="p">{{ p }}</option>
    </select>
    <input
      v-if="VALUED.has(row.what)"
      v-model="row.value"
      class="field fig w-14 text-right"
      :class="dark ? 'text-bone focus:bg-slab' : ''"
      inputmode="decimal"
      aria-label="Figure"
    />
    <input
      v-else-if="row.what === WORDED"
      v-model="row.value"
      class="field w-64"
      :class="dark ? 'text-bone focus:bg-slab' : ''"
      maxlength="300"
      aria-label="Words"
    />
    <span v-if="message" :class="dark ? 'text-blush' : 'message'" role="alert">{{ message }}</span>
  </span>
</template>
