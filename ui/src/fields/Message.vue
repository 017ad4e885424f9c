<script setup lang="ts">
/** What is wrong or risky, in place, with the mends one click away. */
import type { Caution, Fault, Mend } from '../api/client'
import MendKeys from './MendKeys.vue'

defineProps<{ faults?: Fault[]; cautions?: Caution[] }>()
const emit = defineEmits<{ mend: [mend: Mend] }>()
</script>

<template>
  <span v-if="faults?.length || cautions?.length" role="status" class="block py-0.5 leading-snug">
    <span v-for="fault in faults" :key="fault.message" class="block" :class="fault.open ? 'note' : 'message'">
      {{ fault.message }}
      <MendKeys :mends="fault.mends" @mend="(mend) => emit('mend', mend)" />
    </span>
    <span
      v-for="caution in cautions"
      :key="caution.message"
      class="block"
      :class="caution.danger ? 'message' : 'note'"
    >
      {{ caution.message }}
      <MendKeys :mends="caution.mends" @mend="(mend) => emit('mend', mend)" />
    </span>
  </span>
</template>
