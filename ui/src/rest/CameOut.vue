<script setup lang="ts">
/** How a batch came out, in one tap. */
defineProps<{ came: string | null }>()
const emit = defineEmits<{ tap: [event: Record<string, unknown>] }>()
const CAME = { drawn: 'as planned', different: 'sellable', lost: 'lost' } as const
</script>

<template>
  <section aria-labelledby="came">
    <div class="ledger-head">
      <h2 id="came">How did it come out?</h2>
      <span class="note">teaches what this technique takes</span>
    </div>
    <div class="flex flex-wrap gap-2 pt-2">
      <button
        v-for="(words, how) in CAME"
        :key="how"
        type="button"
        class="key min-h-12!"
        :class="came === how ? 'key-main' : ''"
        :aria-pressed="came === how"
        @click="came !== how && emit('tap', { kind: 'verdict', came: how })"
      >
        {{ words }}
      </button>
    </div>
  </section>
</template>
