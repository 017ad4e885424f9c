<script setup lang="ts">
/** What opens from any place: Ctrl or ⌘ and K finds and goes, ? shows the keys. */
import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'
import KeysHelp from './KeysHelp.vue'
import Palette from './Palette.vue'

const open = ref<'find' | 'keys' | null>(null)
function down(event: KeyboardEvent) {
  const typing = event.target instanceof HTMLElement && /^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName)
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
    event.preventDefault()
    open.value = open.value === 'find' ? null : 'find'
  } else if (event.key === '?' && !typing && open.value === null) {
    event.preventDefault()
    open.value = 'keys'
  }
}
useEventListener('keydown', down)
defineExpose({ find: () => (open.value = 'find') })
</script>

<template>
  <Palette :open="open === 'find'" @close="open = null" />
  <KeysHelp :open="open === 'keys'" @close="open = null" />
</template>
