<script setup lang="ts">
/** What went wrong, one tap each; the card of what to do comes with it. */
import BenchDialog from './BenchDialog.vue'
import { FLAGS } from './events'

defineProps<{ open: boolean; where: string }>()
const emit = defineEmits<{ close: []; flag: [what: keyof typeof FLAGS] }>()
</script>

<template>
  <BenchDialog :open="open" :title="`What went wrong in ${where}?`" @close="emit('close')">
    <div class="grid grid-cols-2 gap-3">
      <button
        v-for="(words, key) in FLAGS"
        :key="key"
        type="button"
        class="bench-key"
        @click="emit('flag', key)"
      >
        {{ words }}
      </button>
    </div>
  </BenchDialog>
</template>
