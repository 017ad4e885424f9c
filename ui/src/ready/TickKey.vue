<script setup lang="ts">
/** One thing to be put ready: what, how much, and whether it stands there. */
import type { Schemas } from '../api/client'
import Swatch from '../support/Swatch.vue'
import Told from '../support/Told.vue'

defineProps<{ item: Schemas['ReadyItem'] }>()
const emit = defineEmits<{ tap: [] }>()
</script>

<template>
  <button
    type="button"
    role="checkbox"
    :aria-checked="item.ticked"
    class="flex min-h-14 items-center gap-3 rounded-lg px-3 text-left text-lg leading-tight"
    :class="item.ticked ? 'bg-steel text-mist' : 'bg-well'"
    @click="emit('tap')"
  >
    <svg viewBox="0 0 20 20" class="w-6 shrink-0" aria-hidden="true">
      <rect
        x="1.5"
        y="1.5"
        width="17"
        height="17"
        rx="3"
        fill="none"
        stroke="currentColor"
        stroke-width="2"
      />
      <path
        v-if="item.ticked"
        d="M5 10.5l3.5 3.5L15.5 6"
        fill="none"
        stroke="currentColor"
        stroke-width="2.6"
      />
    </svg>
    <Swatch v-if="item.tint && !item.cup" :tint="item.tint" class="w-5! stroke-bone" />
    <span class="min-w-0 flex-1 py-1"
      >{{ item.cup ? item.name : item.message
      }}<small v-if="item.lot" class="block text-sm text-mist">lot {{ item.lot }}</small></span
    >
    <b v-if="item.shown" class="whitespace-nowrap text-right text-xl"
      ><Told :text="item.shown" unit-class="text-base font-normal text-mist!" /><span
        v-if="item.also"
        class="block text-sm font-normal"
        >{{ item.also }}</span
      ></b
    >
  </button>
</template>
