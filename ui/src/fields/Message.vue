<script setup lang="ts">
/** What is wrong or risky, in place, with the mends one click away. */
import type { Caution, Fault, Mend } from '../api/client'

defineProps<{ faults?: Fault[]; cautions?: Caution[] }>()
const emit = defineEmits<{ mend: [mend: Mend] }>()
</script>

<template>
  <span v-if="faults?.length || cautions?.length" role="status" class="block py-0.5 leading-snug">
    <span v-for="fault in faults" :key="fault.message" class="block" :class="fault.open ? 'note' : 'message'">
      {{ fault.message }}
      <button
        v-for="(mend, i) in fault.mends"
        :key="mend.label"
        type="button"
        class="mr-2 underline"
        @click="emit('mend', mend)"
      >
        {{ i === 0 ? mend.label.charAt(0).toUpperCase() + mend.label.slice(1) : mend.label }}
      </button>
    </span>
    <span
      v-for="caution in cautions"
      :key="caution.message"
      class="block"
      :class="caution.danger ? 'message' : 'note'"
    >
      {{ caution.message }}
      <button
        v-for="mend in caution.mends"
        :key="mend.label"
        type="button"
        class="mr-2 underline"
        @click="emit('mend', mend)"
      >
        {{ mend.label.charAt(0).toUpperCase() + mend.label.slice(1) }}
      </button>
    </span>
  </span>
</template>
