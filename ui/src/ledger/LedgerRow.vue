<script setup lang="ts">
/** One thing in a vessel: its name, what the scale shows, its dose, and the cross that takes it out. */
import type { Line } from '../api/client'
import { injectDraft } from './useDraft'
import Message from '../fields/Message.vue'
import Told from '../support/Told.vue'

/** `pointer` is the row's figure in the recipe: what is wrong with it is said below, across the whole row. */
defineProps<{ name: string; line?: Line; pointer: string }>()
const draft = injectDraft()
const emit = defineEmits<{ out: [] }>()
</script>

<template>
  <div class="ledger-row">
    <span class="relative min-w-0 pb-0.5 leading-tight text-balance">
      <slot name="name">{{ name }}</slot>
    </span>
    <slot name="weight">
      <span class="fig text-right font-semibold">
        <Told :text="line ? line.shown : '—'" />
      </span>
    </slot>
    <slot />
    <button type="button" class="take-out" :aria-label="`Take out ${name}`" @click="emit('out')">×</button>
    <Message
      :id="`message-${pointer}`"
      class="col-span-full pb-1.5"
      :faults="draft.faultsAt(pointer)"
      :cautions="draft.cautionsAt(pointer)"
      @mend="draft.mend"
    />
  </div>
</template>
