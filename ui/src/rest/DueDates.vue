<script setup lang="ts">
/** Days counted back from the one a batch must be ready: what is done by when. */
import type { Schemas } from '../api/client'
import { dayWord } from '../support/when'

defineProps<{ dated: Schemas['Dated']; now: Date }>()
const word = (iso: string, now: Date) => dayWord(new Date(`${iso}T12:00:00`), now)
</script>

<template>
  <section aria-labelledby="dates">
    <div class="ledger-head">
      <h2 id="dates">By when</h2>
      <span class="note"
        >ready {{ word(dated.ready, now)
        }}<template v-if="dated.sale"> · on sale {{ word(dated.sale, now) }}</template>
      </span>
    </div>
    <p
      class="py-1 font-semibold"
      :class="dated.met === 'late' ? 'text-iron' : dated.met === 'tight' ? 'text-pot' : ''"
      data-test="dated"
    >
      {{ dated.message }} {{ dated.bars }}
    </p>
    <p v-if="dated.early" class="message">{{ dated.early }}</p>
    <ol>
      <li v-for="d in dated.deadlines" :key="d.what + d.message" class="row flex items-baseline gap-3">
        <b class="min-w-0 flex-1 truncate" :title="d.message">{{ d.message }}</b>
        <span :class="d.late ? 'font-semibold text-iron' : ''"
          >{{ d.what === 'cured' ? '' : 'by ' }}{{ word(d.by, now) }}</span
        >
        <span v-if="d.latest !== d.by" class="note w-44 text-right"
          >with luck still {{ word(d.latest, now) }}</span
        >
      </li>
    </ol>
  </section>
</template>
