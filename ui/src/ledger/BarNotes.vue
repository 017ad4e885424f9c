<script setup lang="ts">
/** What the bar will be like, and what its label might say. */
import type { Sheet, Weights } from '../api/client'
import { fixed } from '../support/decimal'

defineProps<{ sheet: Sheet; label: Weights['label'] | undefined }>()
</script>

<template>
  <section aria-label="The bar">
    <p class="pt-1.5 text-sm">
      {{ sheet.bar.cutting.charAt(0).toUpperCase() + sheet.bar.cutting.slice(1) }}; {{ sheet.bar.keeping }}.
      <span class="note">
        SV {{ fixed(sheet.saponification_value, 1) }}, iodine {{ sheet.iodine_value.toFixed(0) }}
      </span>
    </p>
    <details v-if="label" class="pt-1">
      <summary class="note cursor-pointer">label draft</summary>
      <p class="pt-1 text-sm"><b>Went in</b> {{ label.went_in.join(', ') }}.</p>
      <p class="pt-1 text-sm"><b>Became</b> {{ label.became.join(', ') }}.</p>
      <p v-if="label.allergens.length" class="pt-1 text-sm">
        <b>Declare</b> {{ label.allergens.join(', ') }}.
      </p>
      <p class="note pt-1">{{ label.note }}</p>
    </details>
  </section>
</template>
