<script setup lang="ts" generic="T extends string">
/** One of a few words, in place. */
defineProps<{ modelValue: T; options: Record<T, string>; label: string }>()
const emit = defineEmits<{ 'update:modelValue': [value: T] }>()
</script>

<template>
  <select
    class="field text-sm"
    :aria-label="label"
    :value="modelValue"
    @change="emit('update:modelValue', ($event.target as HTMLSelectElement).value as T)"
  >
    <option v-for="(words, key) in options" :key="key" :value="key">{{ words }}</option>
  </select>
</template>
