<script setup lang="ts">
/** Taps that were taken and are doubted: keep, move, or take back, whenever there is a hand free. */
import { nextTick, ref } from 'vue'
import type { PourView } from '../api/client'
import { readMinute } from './events'
import { clock } from '../support/format'

const props = defineProps<{ doubts: PourView['doubts'] }>()
const emit = defineEmits<{
  keep: [target: string]
  move: [target: string, to: number]
  takeBack: [target: string]
}>()
const moving = ref<string | null>(null)
const to = ref('')
const message = ref('')
const field = ref<HTMLInputElement[]>([])

function move(target: string) {
  if (moving.value !== target) {
    const doubt = props.doubts.find((d) => d.target === target)
    moving.value = target
    to.value = doubt ? clock(doubt.minute) : ''
    void nextTick(() => field.value[0]?.select())
    return
  }
  const minute = readMinute(to.value)
  message.value = minute === null ? 'A time is m:ss, or minutes.' : ''
  if (minute === null) return
  moving.value = null
  emit('move', target, minute)
}
</script>

<template>
  <div role="status">
    <ol v-if="doubts.length" class="flex flex-col gap-1.5" aria-label="To be answered" data-test="doubts">
      <li
        v-for="d in doubts"
        :key="d.target"
        class="flex flex-wrap items-center gap-x-3 gap-y-1 rounded-lg border-2 border-blush px-4 py-1.5"
      >
        <span class="flex-1 basis-72">
          <b
            ><span class="fig">{{ clock(d.minute) }}</span> {{ d.label }}.</b
          >
          {{ d.message }}
          <span class="text-mist">{{
            d.stands === 'counts' ? 'It counts meanwhile.' : 'It does not count yet.'
          }}</span>
        </span>
        <button
          v-if="d.stands !== 'cannot'"
          type="button"
          class="bench-key px-5"
          @click="emit('keep', d.target)"
        >
          Keep
        </button>
        <input
          v-if="moving === d.target"
          ref="field"
          v-model="to"
          class="field fig w-20 text-right text-bone focus:bg-slab"
          aria-label="At which minute"
          :aria-invalid="!!message"
          @keydown.enter="move(d.target)"
        />
        <span v-if="moving === d.target && message" class="text-blush" role="alert">{{ message }}</span>
        <button type="button" class="bench-key px-5" @click="move(d.target)">Move</button>
        <button type="button" class="bench-key px-5" @click="emit('takeBack', d.target)">Take back</button>
      </li>
    </ol>
  </div>
</template>
