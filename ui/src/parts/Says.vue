<script setup lang="ts">
/** What is wrong or risky, in place, with the mends one click away. */
import type { Caution, Fault, Mend } from '../api/client'

defineProps<{ faults?: Fault[]; cautions?: Caution[] }>()
const emit = defineEmits<{ mend: [mend: Mend] }>()
</script>

<template>
  <div v-if="faults?.length || cautions?.length" role="status" class="py-1 leading-snug">
    <p v-for="fault in faults" :key="fault.says" class="says">
      {{ fault.says }}
      <button
        v-for="(mend, i) in fault.mends"
        :key="mend.label"
        type="button"
        class="mr-2 underline"
        @click="emit('mend', mend)"
      >
        {{ i === 0 ? mend.label.charAt(0).toUpperCase() + mend.label.slice(1) : mend.label }}
      </button>
    </p>
    <p v-for="caution in cautions" :key="caution.says" :class="caution.danger ? 'says' : 'note'">
      {{ caution.says }}
    </p>
  </div>
</template>
