<script setup lang="ts">
/** What went wrong, one tap each; Esc or Cancel when it was a slip. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { FLAGS } from './events'

defineProps<{ open: boolean; where: string }>()
const emit = defineEmits<{ close: []; flag: [what: keyof typeof FLAGS] }>()
</script>

<template>
  <Dialog :open="open" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-black/60" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel class="w-full max-w-lg rounded-xl bg-slab p-5 text-bone">
        <DialogTitle class="text-xl font-bold">What went wrong in {{ where }}?</DialogTitle>
        <div class="grid grid-cols-2 gap-3 pt-4">
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
        <button type="button" class="bench-key mt-3 w-full" @click="emit('close')">Cancel</button>
      </DialogPanel>
    </div>
  </Dialog>
</template>
