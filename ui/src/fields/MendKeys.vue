<script setup lang="ts">
/** What would mend it, one click away; the first begins a sentence. */
import type { Mend } from '../api/client'

defineProps<{ mends?: Mend[] }>()
defineEmits<{ mend: [mend: Mend] }>()
const begun = (words: string) => words.charAt(0).toUpperCase() + words.slice(1)
</script>

<template>
  <button
    v-for="(mend, i) in mends"
    :key="mend.label"
    type="button"
    class="mr-2 font-normal underline"
    @click="$emit('mend', mend)"
  >
    {{ i === 0 ? begun(mend.label) : mend.label }}
  </button>
</template>
