<script setup lang="ts">
/** Notes for next time that matter here: from this recipe, its fragrances, technique, mould or colours. */
import { injectDraft } from './useDraft'

const draft = injectDraft()
</script>

<template>
  <ul v-if="draft.meta.noted.length" data-test="noted">
    <li v-for="n in draft.meta.noted" :key="n.id" class="text-sm">
      <RouterLink :to="`/pours/${n.pour}/rest`" class="underline">Noted of {{ n.of }}:</RouterLink>
      {{ n.message }}
      <span v-if="n.met" class="note">{{ n.heeded }} of {{ n.met }} heeded</span>
    </li>
  </ul>
</template>
