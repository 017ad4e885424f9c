<script setup lang="ts">
/** A field bound to a place in the draft: label, faults and cautions come with it. */
import { computed, ref, useId, watch } from 'vue'
import { placeOf } from '../support/pointer'
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

const unreadable = ref<string | null>(null)
function tell(message: string | null) {
  unreadable.value = message
  draft.readable(field, props.pointer, message)
}
watch(
  () => props.pointer,
  () => tell(unreadable.value),
)

const value = computed(() => {
  if (!draft.recipe.value) return 0
  const [at, name] = placeOf(draft.recipe.value, props.pointer)
  return at[name] as number
})
const write = (value: number) =>
  draft.edit(props.pointer, (d) => {
    const [at, name] = placeOf(d, props.pointer)
    at[name] = value
  })
</script>

<template>
  <NumberField
    v-bind="props"
    :model-value="value"
    :faults="draft.faultsAt(pointer)"
    :cautions="draft.cautionsAt(pointer)"
    @update:model-value="write"
    @unreadable="tell"
    @mend="draft.mend"
  />
</template>
