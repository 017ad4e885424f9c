<script setup lang="ts">
/** A question over the bench, for gloves; Esc or Cancel when it was a slip. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { ref } from 'vue'

/** `calm`: nothing is chosen by a stray Enter, the way back has the focus. */
const props = withDefaults(
  defineProps<{ open: boolean; title: string; wide?: boolean; leave?: string; calm?: boolean }>(),
  { leave: 'Cancel', calm: true },
)
const back = ref<HTMLButtonElement | null>(null)
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <Dialog
    :open="open"
    :initial-focus="props.calm ? back : null"
    class="bench relative z-40"
    @close="emit('close')"
  >
    <div class="fixed inset-0 bg-slate/70" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4 max-sm:p-2">
      <DialogPanel
        class="flex max-h-full w-full flex-col rounded-xl bg-slab text-bone"
        :class="wide ? 'max-w-3xl' : 'max-w-lg'"
      >
        <DialogTitle class="px-5 pt-4 text-xl font-bold max-sm:px-3">{{ title }}</DialogTitle>
        <div class="min-h-0 flex-1 overflow-y-auto px-5 py-3 max-sm:px-3"><slot /></div>
        <div class="px-5 pb-4 max-sm:px-3">
          <button ref="back" type="button" class="bench-key w-full" @click="emit('close')">
            {{ leave }}
          </button>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
