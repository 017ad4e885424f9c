<script setup lang="ts">
/**
 * Words (or a day) typed in place: told as they are typed, or `lazy` on leaving, and never changed under the hand.
 * A day picked from the calendar leaves the hand in the field, so a whole one is told once the hand rests.
 */
import { onScopeDispose } from 'vue'
import { useTyped } from './useTyped'

const props = withDefaults(
  defineProps<{ modelValue: string; label?: string; faulty?: boolean; most?: number; lazy?: boolean }>(),
  { label: undefined, most: 80 },
)
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()
const field = useTyped(
  () => props.modelValue,
  (value) => value,
)
const text = field.text
const RESTS = 500 // ms
let rests = 0
onScopeDispose(() => clearTimeout(rests))
/** While a year is typed it is 0002, then 0020: not a day anyone means. */
const wholeDay = (value: string) => /^[12]\d{3}-\d\d-\d\d$/.test(value)
function tell() {
  clearTimeout(rests)
  field.tell(text.value)
  emit('update:modelValue', text.value)
}
function typed(event: Event) {
  text.value = (event.target as HTMLInputElement).value
  field.touch()
  if (!props.lazy) return tell()
  clearTimeout(rests)
  if (wholeDay(text.value)) rests = window.setTimeout(() => text.value !== props.modelValue && tell(), RESTS)
}
function leave() {
  clearTimeout(rests)
  if (props.lazy && field.touched() && text.value !== props.modelValue) tell()
  field.leave()
}
</script>

<template>
  <input
    class="field"
    :value="text"
    :maxlength="most"
    :aria-label="label"
    :aria-invalid="faulty"
    @focus="field.enter"
    @input="typed"
    @keydown.enter="($event.target as HTMLInputElement).blur()"
    @blur="leave"
  />
</template>
