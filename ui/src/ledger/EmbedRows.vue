<script setup lang="ts">
/** Pieces of soap that are set into the batter: how many in each mould, how heavy, and of which batch. */
import { computed } from 'vue'
import Figure from '../fields/Figure.vue'
import Message from '../fields/Message.vue'
import TextField from '../fields/TextField.vue'
import type { Recipe } from '../api/client'
import { injectDraft } from './useDraft'

const draft = injectDraft()
const embeds = computed(() => draft.recipe.value?.embeds ?? [])
type Embed = NonNullable<Recipe['embeds']>[number]
const MOST = 12
const fresh = (): Embed => ({ name: `Pieces ${embeds.value.length + 1}`, count: 1, grams: 0, of: '' })
const edit = (i: number, field: 'name' | 'of', value: string) =>
  draft.edit(`/embeds/${i}/${field}`, (d) => {
    const one = d.embeds?.[i]
    if (one) one[field] = value
  })
</script>

<template>
  <div class="flex basis-full flex-col gap-1 border-t border-rule pt-1" role="group" aria-label="Embeds">
    <div v-for="(e, i) in embeds" :key="i" class="flex flex-wrap items-end gap-x-3">
      <label>
        <span class="note block">embed</span>
        <TextField
          class="w-36"
          :model-value="e.name"
          :label="`Embed ${i + 1}`"
          :faulty="draft.faultsAt(`/embeds/${i}/name`).length > 0"
          @update:model-value="(name) => edit(i, 'name', name)"
        />
      </label>
      <Figure :pointer="`/embeds/${i}/count`" label="pieces in a mould" width="w-11" />
      <Figure :pointer="`/embeds/${i}/grams`" label="one weighs" unit="g" width="w-14" />
      <label>
        <span class="note block">of which batch</span>
        <TextField
          class="w-36"
          :model-value="e.of ?? ''"
          :label="`Embed ${i + 1}: of which batch`"
          @update:model-value="(of) => edit(i, 'of', of)"
        />
      </label>
      <button
        type="button"
        class="take-out"
        :aria-label="`Take out ${e.name}`"
        @click="draft.edit('embed out', (d) => void d.embeds?.splice(i, 1))"
      >
        ×
      </button>
      <Message :faults="draft.faultsAt(`/embeds/${i}/name`)" />
    </div>
    <Message :cautions="draft.cautionsAt('/embeds')" />
    <button
      v-if="embeds.length < MOST"
      type="button"
      class="min-h-6 self-start text-sm underline"
      @click="draft.edit('embed', (d) => void (d.embeds ??= []).push(fresh()))"
    >
      Add embeds
    </button>
  </div>
</template>
