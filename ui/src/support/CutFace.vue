<script setup lang="ts">
/** The cut face a design leads to. What is drawn stands in its code, so the browser keeps every picture. */
const SIZES = [40, 80, 120, 240, 480]
const props = defineProps<{ code: string; width: number; message?: string }>()
const at = (times: number) => SIZES.find((s) => s >= props.width * times) ?? 480
const src = (times: number) => `/api/faces/${props.code}/${at(times)}.png`
</script>

<template>
  <img
    v-if="code"
    :src="src(1)"
    :srcset="`${src(1)} 1x, ${src(2)} 2x`"
    :width="width"
    :height="Math.round((width * 71) / 80)"
    :alt="message ?? ''"
    class="inline-block"
    decoding="async"
  />
</template>
