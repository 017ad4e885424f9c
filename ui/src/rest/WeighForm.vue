<script setup lang="ts">
/** One marked bar on the scale. */
import { inField, ownUnit, readNumber, weight } from '../support/quantity'
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import ReadButton from '../bench/ReadButton.vue'

const props = defineProps<{ bars: readonly Schemas['BarKind'][] }>()
const emit = defineEmits<{ tap: [event: Record<string, unknown>] }>()
const grams = ref('')
const bar = ref('1')
const mould = ref(props.bars[0]?.mould ?? 0)
const message = ref('')
function weigh() {
  const read = readNumber(grams.value, 'g')
  message.value = ''
  if (read === null || read <= 0) message.value = 'Grams are a number over 0.'
  else if (read > 50_000) message.value = 'A bar weighs up to 50 kg.'
  else {
    emit('tap', { kind: 'weigh', bar: bar.value.trim() || '1', mould: mould.value, grams: read })
    grams.value = ''
  }
}
</script>

<template>
  <form class="flex flex-wrap items-center gap-2 pt-1" @submit.prevent="weigh">
    <select v-if="bars.length > 1" v-model="mould" class="field" aria-label="From which mould">
      <option v-for="b in bars" :key="b.mould" :value="b.mould">
        {{ b.name }}{{ b.grams === null ? '' : `, ${weight(b.grams)}` }}
      </option>
    </select>
    <label class="flex items-baseline gap-1"
      >bar
      <input v-model="bar" class="field w-10 text-center" maxlength="20" aria-label="Mark of the bar" />
    </label>
    <input
      v-model="grams"
      class="field fig min-h-12 w-28 text-right text-2xl font-bold"
      inputmode="decimal"
      :placeholder="ownUnit('g')"
      :aria-label="`Weight of the bar, ${ownUnit('g')}`"
      :aria-invalid="!!message"
    />
    <ReadButton kind="scale" @read="(g) => (grams = inField(g, 'g', 2))" />
    <button type="submit" class="key min-h-12! font-bold">Weigh it in</button>
    <span v-if="message" class="message w-full" role="alert">{{ message }}</span>
  </form>
</template>
