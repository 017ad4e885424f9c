<script setup lang="ts">
/** Takes one reading from an instrument, where one is connected; keying by hand is always as good. */
import { ref } from 'vue'
import { api, take } from '../api/client'
import { useInstruments } from './useInstruments'

const props = defineProps<{ kind: 'thermometer' | 'scale' }>()
const emit = defineEmits<{ read: [value: number] }>()
const instruments = useInstruments()
const says = ref('')
async function read() {
  says.value = ''
  try {
    const got = await take(api.GET('/api/instruments/{kind}', { params: { path: { kind: props.kind } } }))
    emit('read', got.value)
  } catch {
    says.value = 'no reading'
  }
}
</script>

<template>
  <button v-if="instruments[kind]" type="button" class="bench-key px-4" @click="read">
    {{ says || 'read' }}
  </button>
</template>
