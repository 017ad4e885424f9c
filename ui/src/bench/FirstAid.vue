<script setup lang="ts">
/** First aid for lye, one tap away; its words are the server's, and stand here before they are wanted. */
import { ref } from 'vue'
import BenchDialog from './BenchDialog.vue'

defineProps<{ aid: readonly string[] }>()
const open = ref(false)
</script>

<template>
  <button type="button" class="min-h-6 whitespace-nowrap underline" data-test="aid" @click="open = true">
    first aid
  </button>
  <BenchDialog :open="open" wide title="First aid for lye" leave="Back" @close="open = false">
    <p v-for="message in aid" :key="message" class="pb-2 text-lg leading-snug">{{ message }}</p>
  </BenchDialog>
</template>
