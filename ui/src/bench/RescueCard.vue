<script setup lang="ts">
/** A mishap in hand: what to do, what never, what is known of it, and how it ended. A bar until it has. */
import { ref, watch } from 'vue'
import type { PourEvent, Schemas } from '../api/client'
import { clock } from '../support/format'
import BenchDialog from './BenchDialog.vue'

type How = Extract<PourEvent, { kind: 'mended' }>['how']
const props = defineProps<{ rescue: Schemas['Rescue']; minute: number }>()
const emit = defineEmits<{ ended: [how: How] }>()
const WAYS: Record<How, string> = { smooth: 'came smooth', rough: 'used as it is', lost: 'lost' }
const FRESH = 1 // minutes after its tap in which the card opens by itself
const open = ref(false)
const name = () => props.rescue.name + (props.rescue.portion ? `: ${props.rescue.portion}` : '')
watch(
  () => `${props.rescue.flag} ${props.rescue.minute}`,
  () => (open.value = props.minute - props.rescue.minute < FRESH),
  { immediate: true },
)
function ended(how: How) {
  open.value = false
  emit('ended', how)
}
</script>

<template>
  <button
    type="button"
    class="bench-key min-h-16 flex-col! gap-0! border-blush! text-blush! max-sm:max-h-16 sm:max-h-28"
    @click="open = true"
  >
    <span class="truncate">{{ name() }}</span>
    <span class="text-sm font-normal">{{ clock(minute - rescue.minute) }} ago: what to do, how it ended</span>
  </button>
  <BenchDialog :open="open" :title="name()" leave="Not over yet: back to the bench" @close="open = false">
    <ul class="flex flex-col gap-2">
      <li v-for="line in rescue.do" :key="line" class="text-xl leading-snug font-semibold">{{ line }}</li>
      <li v-for="line in rescue.never" :key="line" class="text-lg leading-snug text-blush">{{ line }}</li>
    </ul>
    <p class="pt-2 text-mist">{{ rescue.known }} {{ rescue.own }}</p>
    <p class="pt-3 pb-1 font-bold">How did it end?</p>
    <div class="grid grid-cols-3 gap-2">
      <button v-for="(words, how) in WAYS" :key="how" type="button" class="bench-key" @click="ended(how)">
        {{ words }}
      </button>
    </div>
  </BenchDialog>
</template>
