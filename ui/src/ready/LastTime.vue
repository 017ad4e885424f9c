<script setup lang="ts">
/** What was noted for next time, and how such batches went before. */
import type { Schemas } from '../api/client'

type How = Schemas['ReadyView']['noted'][number]['how']
defineProps<{ view: Schemas['ReadyView'] }>()
const emit = defineEmits<{ heed: [note: string, how: How] }>()
const HEED = { heeded: 'heed it', aside: 'set aside' } as const
</script>

<template>
  <section
    v-if="view.before.length || view.noted.length"
    aria-label="Before you begin"
    class="border-t border-slab pt-2"
  >
    <h2 class="text-lg font-bold">Before you begin</h2>
    <div v-for="n in view.noted" :key="n.id" class="flex flex-wrap items-center gap-2 py-1" data-test="note">
      <span class="min-w-52 flex-1 font-semibold text-honey"
        >{{ n.message }}
        <span class="block text-sm font-normal text-mist"
          >noted about {{ n.of
          }}<template v-if="n.met">, {{ n.heeded }} of {{ n.met }} heeded</template></span
        ></span
      >
      <button
        v-for="(words, how) in HEED"
        :key="how"
        type="button"
        class="bench-key min-h-12! px-3 text-base!"
        :class="n.how === how ? 'bg-bone! text-ink!' : ''"
        :aria-pressed="n.how === how"
        @click="emit('heed', n.id, n.how === how ? '' : how)"
      >
        {{ words }}
      </button>
    </div>
    <p v-for="b in view.before" :key="b.of" class="pt-0.5">
      <span class="text-mist">{{ b.of }}:</span> {{ b.message }}
    </p>
  </section>
</template>
