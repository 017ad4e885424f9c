<script setup lang="ts">
/** Words (or a day) typed in place: told as they are typed, or `lazy` on leaving, and never changed under the hand. */
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
function tell() {
  field.tell(text.value)
  emit('update:modelValue', text.value)
}
function typed(event: Event) {
  text.value = (event.target as HTMLInputElement).value
  field.touch()
  if (!props.lazy) tell()
}
function leave() {
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
