<script setup lang="ts">
/** What went wrong, one tap each; Esc or Cancel when it was a slip. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { FLAGS } from './events'

/** `scent`: whether one is still to go in, so that it can be left out. */
defineProps<{ open: boolean; where: string; scent: boolean }>()
const emit = defineEmits<{ close: []; flag: [what: keyof typeof FLAGS]; unscented: [] }>()
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
          <button v-if="scent" type="button" class="bench-key col-span-2" @click="emit('unscented')">
            the scent stays out
          </button>
        </div>
        <button type="button" class="bench-key mt-3 w-full" @click="emit('close')">Cancel</button>
      </DialogPanel>
    </div>
  </Dialog>
</template>
