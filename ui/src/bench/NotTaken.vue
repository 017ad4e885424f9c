<script setup lang="ts">
/** Taps that were not taken, and why; each is sent again or put away. */
import { computed } from 'vue'
import { outbox } from '../keep/outbox'
import { clock } from '../support/format'

const props = defineProps<{ id: string }>()
const refused = computed(() => outbox.refused.value.filter((t) => t.pour === props.id))
</script>

<template>
  <p v-if="outbox.trouble.value" class="font-semibold text-blush" role="alert">
    {{ outbox.trouble.value }}
  </p>
  <p v-for="t in refused" :key="t.id" class="flex flex-wrap items-center gap-3 text-blush" role="alert">
    <span class="min-w-0 flex-1">
      <span class="fig">{{ clock(t.event.minute) }}</span> {{ t.event.kind }} was not taken:
      {{ t.refused }}
      <code class="block truncate text-sm text-mist select-all" :title="JSON.stringify(t.event)">{{
        JSON.stringify(t.event)
      }}</code>
    </span>
    <button type="button" class="bench-key px-4" @click="outbox.again(t)">Send again</button>
    <button type="button" class="bench-key px-4" @click="outbox.putAway(t)">Put away</button>
  </p>
</template>
