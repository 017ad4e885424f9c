<script setup lang="ts">
/** What came of a file: how much was taken in, what is wrong with which line, or what is asked of it. */
import type { useFile } from './useFile'

defineProps<{ file: ReturnType<typeof useFile> }>()
/** Where in the file, as a pointer names it: by lines, or by the name of a field. */
function place(pointer: string) {
  const [first = '', ...rest] = pointer.split('/').slice(1)
  if (/^\d+$/.test(rest[0] ?? '')) return `${first}, row ${rest.join(', ')}: `
  if (/^\d+$/.test(first)) return `line ${[first, ...rest].join(', ')}: `
  return pointer && pointer !== '/text' ? `${pointer}: ` : ''
}
</script>

<template>
  <div v-if="file.told" class="pt-2" :role="file.faults.length ? 'alert' : 'status'">
    {{ file.told }}
    <p v-for="f in file.faults" :key="f.pointer + f.message" class="message">
      {{ place(f.pointer) }}{{ f.message }}
    </p>
    <button
      v-if="file.asked"
      type="button"
      class="key mt-2"
      @click="file.asked && file.take(file.asked, true)"
    >
      It is so: take it as it stands
    </button>
  </div>
</template>
