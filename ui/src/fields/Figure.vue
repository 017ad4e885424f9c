<script setup lang="ts">
/** A field bound to a place in the draft: label, faults and cautions come with it. */
import { computed, ref, useId, watch } from 'vue'
import type { Recipe } from '../api/client'
import type { Quantity } from '../support/quantity'
import { injectDraft } from '../ledger/useDraft'
import NumberField from './NumberField.vue'

const props = defineProps<{
  pointer: string
  label: string
  unit?: string
  scale?: number
  step?: number
  width?: string
  hideLabel?: boolean
  big?: boolean
  bare?: boolean
  reckoned?: boolean
  quantity?: (typed: Quantity) => Promise<string | null>
}>()
const draft = injectDraft()
// Not the pointer: rows move, and a complaint must move with its field.
const field = useId()
const path = computed(() => props.pointer.split('/').slice(1))

function owner(recipe: Recipe): Record<string, unknown> {
  let at = recipe as unknown as Record<string, unknown>
  for (const part of path.value.slice(0, -1)) at = at[part] as Record<string, unknown>
  return at
}

const unreadable = ref<string | null>(null)
function tell(message: string | null) {
  unreadable.value = message
  draft.readable(field, props.pointer, message)
}
watch(
  () => props.pointer,
  () => tell(unreadable.value),
)

const value = computed(() =>
  draft.recipe.value ? (owner(draft.recipe.value)[path.value.at(-1) as string] as number) : 0,
)
</script>

<template>
  <NumberField
    v-bind="props"
    :model-value="value"
    :faults="draft.faultsAt(pointer)"
    :cautions="draft.cautionsAt(pointer)"
    @update:model-value="(v) => draft.edit(pointer, (d) => void (owner(d)[path.at(-1) as string] = v))"
    @unreadable="tell"
    @mend="draft.mend"
  />
</template>
