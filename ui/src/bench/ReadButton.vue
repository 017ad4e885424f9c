<script setup lang="ts">
/** Takes one reading from an instrument, where one is connected; keying by hand is always as good. */
import { ref } from 'vue'
import { api, take } from '../api/client'
import { useInstruments } from './useInstruments'

const props = defineProps<{ kind: 'thermometer' | 'scale' }>()
const emit = defineEmits<{ read: [value: number] }>()
const instruments = useInstruments()
const message = ref('')
async function read() {
  message.value = ''
  try {
    const got = await take(api.GET('/api/instruments/{kind}', { params: { path: { kind: props.kind } } }))
    emit('read', got.value)
  } catch {
    message.value = 'no reading'
  }
}
</script>

<template>
  <button v-if="instruments[kind]" type="button" class="bench-key px-4" @click="read">
    {{ message || 'read' }}
  </button>
</template>
