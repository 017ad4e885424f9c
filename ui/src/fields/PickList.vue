<script
  setup
  lang="ts"
  generic="T extends { id: string; name: string; hint?: string; also?: readonly string[] }"
>
/** Find one of many by typing; used to add to a ledger and to choose in place. What is not there may be made. */
import { Combobox, ComboboxButton, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { computed, ref } from 'vue'
import { matching } from '../support/matching'

const props = defineProps<{
  options: T[]
  chosen?: string | null
  label: string
  /** What is made of a name that is not there: "fragrance or colour". */
  makes?: string
}>()
const emit = defineEmits<{ pick: [id: string]; make: [name: string] }>()

const MAKE = '+make'
const query = ref('')
const current = computed(() => props.chosen ?? null)
const found = computed(() => matching(props.options, query.value))

function nameOf(id: unknown): string {
  return props.options.find((o) => o.id === id)?.name ?? ''
}

function picked(id: string | null) {
  const typed = query.value.trim()
  query.value = ''
  if (id === MAKE) emit('make', typed)
  else if (id !== null) emit('pick', id)
}
</script>

<template>
  <Combobox as="div" class="relative" :model-value="current" nullable @update:model-value="picked">
    <span class="flex items-baseline">
      <ComboboxInput
        class="field w-full text-ellipsis"
        :aria-label="label"
        :placeholder="label"
        :display-value="nameOf"
        autocomplete="off"
        @change="query = $event.target.value"
        @blur="query = ''"
        @focus="($event.target as HTMLInputElement).select()"
      />
      <ComboboxButton class="px-1.5 text-quiet" :aria-label="`${label}: show all`">
        <svg viewBox="0 0 10 6" class="w-2.5" aria-hidden="true">
          <path d="M1 1l4 4 4-4" fill="none" stroke="currentColor" stroke-width="1.6" />
        </svg>
      </ComboboxButton>
    </span>
    <ComboboxOptions
      class="sheet absolute z-30 mt-1 max-h-72 w-full min-w-64 overflow-auto py-1 shadow-lg focus:outline-none"
    >
      <li v-if="!found.length && !makes" class="px-3 py-1.5 text-quiet">
        Nothing like “{{ query }}” on the shelf.
      </li>
      <ComboboxOption v-for="o in found" :key="o.id" v-slot="{ active }" :value="o.id" as="template">
        <li class="flex justify-between gap-3 px-3 py-1.5" :class="active ? 'bg-paper' : ''">
          <span>{{ o.name }}</span>
          <span class="note">{{ o.hint }}</span>
        </li>
      </ComboboxOption>
      <ComboboxOption v-if="makes && query.trim()" v-slot="{ active }" :value="MAKE" as="template">
        <li class="border-t border-rule px-3 py-1.5" :class="active ? 'bg-paper' : ''">
          New {{ makes }}: <b>{{ query }}</b>
        </li>
      </ComboboxOption>
    </ComboboxOptions>
  </Combobox>
</template>
