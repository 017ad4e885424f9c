<script setup lang="ts">
/** The keys of the place that is open. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { EVERYWHERE, OF } from './keys'

defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const route = useRoute()
const here = computed(() => OF[String(route.name)])
const lists = computed(() => [...(here.value ? [here.value] : []), { title: 'Everywhere', keys: EVERYWHERE }])
</script>

<template>
  <Dialog :open="open" class="relative z-50" @close="emit('close')">
    <div class="fixed inset-0 bg-ink/40" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel class="max-h-full w-full max-w-lg overflow-y-auto rounded-xl bg-chalk px-6 py-5 text-ink">
        <DialogTitle class="text-xl font-bold">Keys</DialogTitle>
        <section v-for="l in lists" :key="l.title" class="pt-3">
          <h3 class="font-bold">{{ l.title }}</h3>
          <dl class="grid grid-cols-[8rem_minmax(0,1fr)] gap-y-0.5">
            <template v-for="[key, does] in l.keys" :key="key">
              <dt class="fig text-sm">{{ key }}</dt>
              <dd>{{ does }}</dd>
            </template>
          </dl>
        </section>
        <p class="flex gap-3 pt-4">
          <RouterLink to="/words" class="key" @click="emit('close')">Words explained</RouterLink>
          <button type="button" class="key" @click="emit('close')">Close</button>
        </p>
      </DialogPanel>
    </div>
  </Dialog>
</template>
