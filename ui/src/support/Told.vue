<script setup lang="ts">
/** A quantity as it was told, its figures large and its units quiet: "2 lb 3.25 oz". */
import { computed } from 'vue'

const props = defineProps<{ text: string; unitClass?: string }>()
const pieces = computed(() => props.text.split(/([\d.,\u2212-]+)/).filter((piece) => piece.trim()))
</script>

<template>
  <span class="whitespace-nowrap"
    ><template v-for="(piece, i) in pieces" :key="i"
      ><template v-if="/\d/.test(piece)">{{ i ? ' ' : '' }}{{ piece }}</template
      ><span v-else class="unit font-sans" :class="unitClass">&nbsp;{{ piece.trim() }}</span></template
    ></span
  >
</template>
