<script setup lang="ts">
/** Words of the trade: what each means, with a drawing, found by itself or by another word for it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '../api/client'
import WordPicture from '../find/WordPicture.vue'

const route = useRoute()
const { data, error, isPending } = useQuery({
  queryKey: ['words'],
  queryFn: () => take(api.GET('/api/words')),
  staleTime: Infinity,
})
const find = ref('')
const shown = computed(() => {
  const said = find.value.toLowerCase().split(/\s+/).filter(Boolean)
  const all = data.value?.words ?? []
  return all.filter((w) =>
    said.every((s) => [w.word, ...(w.also ?? []), w.text].some((t) => t.toLowerCase().includes(s))),
  )
})
/** The word that was asked for by its address. */
const asked = computed(() => route.hash.slice(1))
watch(
  [asked, data],
  async () => {
    if (!asked.value || !data.value) return
    find.value = ''
    await nextTick()
    document.getElementById(asked.value)?.scrollIntoView({ block: 'center' })
  },
  { immediate: true },
)
</script>

<template>
  <div class="mx-auto max-w-6xl px-6 py-5 max-sm:px-4">
    <div class="flex flex-wrap items-center gap-x-5 gap-y-2">
      <h1 class="text-3xl font-bold">Words</h1>
      <label>
        <span class="sr-only">Find a word</span>
        <input v-model="find" type="search" class="field w-64" placeholder="Find a word" />
      </label>
    </div>
    <p v-if="error" class="message pt-4" role="alert">{{ error.message }}</p>
    <p v-else-if="isPending" class="note pt-4" role="status">Loading …</p>
    <p v-else-if="!shown.length" class="pt-6 text-lg">
      Nothing like “{{ find }}”. <button type="button" class="underline" @click="find = ''">Show all</button>
    </p>
    <dl class="grid gap-x-10 pt-4 lg:grid-cols-2">
      <div
        v-for="w in shown"
        :id="w.id"
        :key="w.id"
        class="row grid grid-cols-[3.75rem_minmax(0,1fr)] grid-rows-[auto_1fr] items-start gap-x-5 py-2.5"
        :class="w.id === asked ? '-mx-3 rounded-lg bg-chalk px-3 outline-2 outline-ink' : ''"
      >
        <dt class="contents">
          <WordPicture :picture="w.picture" :face="w.face ?? ''" class="row-span-2" />
          <b class="text-lg leading-tight">{{ w.word }}</b>
        </dt>
        <dd class="max-w-prose leading-snug">
          {{ w.text }}
          <span v-if="w.also?.length" class="note block">also: {{ w.also.join(', ') }}</span>
        </dd>
      </div>
    </dl>
  </div>
</template>
