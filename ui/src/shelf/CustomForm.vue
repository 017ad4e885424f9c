<script setup lang="ts" generic="K extends string">
/** What every form of an ingredient of one's own has: which kind it is, its name, and what is wrong with no field here. */
import type { Fault } from '../api/client'

defineProps<{
  /** It is there already: of what kind it is stays. */
  there: boolean
  kinds: Record<K, string>
  kindOf: string
  nameOf: string
  at: (pointer: string) => string | undefined
  elsewhere: readonly Fault[]
}>()
defineEmits<{ save: [] }>()
const kind = defineModel<K>('kind', { required: true })
const name = defineModel<string>('name', { required: true })
</script>

<template>
  <form class="border-l-4 border-ink bg-chalk px-5 py-4" @submit.prevent="$emit('save')">
    <fieldset v-if="!there" class="flex flex-wrap gap-5 pb-3">
      <legend class="sr-only">{{ kindOf }}</legend>
      <label v-for="(words, k) in kinds" :key="k" class="flex items-center gap-1.5">
        <input v-model="kind" type="radio" :value="k" class="size-4 accent-ink" /> {{ words }}
      </label>
    </fieldset>
    <div class="grid gap-x-8 gap-y-3 sm:grid-cols-2 md:grid-cols-3">
      <label class="flex flex-col">
        <span class="note">{{ nameOf }}</span>
        <input v-model="name" class="field text-lg" maxlength="80" required />
        <span v-if="at('/name')" class="message" role="alert">{{ at('/name') }}</span>
      </label>
      <slot />
    </div>
    <slot name="more" />
    <p v-for="f in elsewhere" :key="f.message" class="message pt-2" role="alert">{{ f.message }}</p>
    <button type="submit" class="key key-main mt-3">Save</button>
  </form>
</template>
