<script setup lang="ts">
/** Which minute it is, where this device's two clocks parted and nobody else can be asked. */
import { clock } from '../support/format'

defineProps<{ minute: number; jump: number }>()
const emit = defineEmits<{ hold: [minute: number] }>()
</script>

<template>
  <p class="flex flex-wrap items-center gap-3 font-semibold text-honey" role="alert" data-test="jump">
    This device slept, or its clock was set. Since lye met fats it is
    <button type="button" class="bench-key fig px-4" @click="emit('hold', minute)">
      {{ clock(minute) }}
    </button>
    <button type="button" class="bench-key fig px-4" @click="emit('hold', Math.max(0, jump))">
      {{ clock(Math.max(0, jump)) }}
    </button>
  </p>
</template>
