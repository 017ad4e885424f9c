<script setup lang="ts">
/** How many bars the block gave: asked where it is not known, and corrected where it was told. */
import { ref } from 'vue'

defineProps<{ counted: number | null; planned: number }>()
const emit = defineEmits<{ tap: [event: Record<string, unknown>] }>()
const bars = ref('')
const message = ref('')
function count() {
  message.value = /^[1-9]\d{0,3}$/.test(bars.value.trim()) ? '' : 'Bars are a whole number.'
  if (message.value) return
  emit('tap', { kind: 'bars', bars: Number(bars.value) })
  bars.value = ''
}
</script>

<template>
  <form class="flex flex-wrap items-center gap-2 pt-1" @submit.prevent="count">
    <label class="flex items-baseline gap-1.5"
      ><b v-if="counted === null && !planned">How many bars?</b><template v-else>bars counted</template>
      <input
        v-model="bars"
        class="field fig w-16 text-right"
        inputmode="numeric"
        aria-label="Bars counted"
        :placeholder="`${counted ?? (planned || '')}`"
        :aria-invalid="!!message"
      />
    </label>
    <button type="submit" class="key">Save the count</button>
    <span v-if="message" class="message w-full" role="alert">{{ message }}</span>
  </form>
</template>
