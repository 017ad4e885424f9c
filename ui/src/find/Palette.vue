<script setup lang="ts">
/** Find anything by its name, or go anywhere: one field, opened by Ctrl or ⌘ and K. */
import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogPanel,
  DialogTitle,
} from '@headlessui/vue'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take, type Schemas } from '../api/client'
import { useNewRecipe } from '../api/writes'

const props = defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const route = useRoute()
const words = ref('')
const asked = ref('')
const trouble = ref('')
let timer = 0
watch(words, (typed) => {
  window.clearTimeout(timer)
  timer = window.setTimeout(() => (asked.value = typed.trim()), 120)
})
watch(
  () => props.open,
  () => {
    words.value = ''
    asked.value = ''
    trouble.value = ''
  },
)
const { data, error } = useQuery({
  queryKey: ['find', asked],
  queryFn: ({ signal }) => take(api.GET('/api/find', { params: { query: { words: asked.value } }, signal })),
  enabled: computed(() => props.open && asked.value !== ''),
  staleTime: 5000,
})

interface Row {
  key: string
  name: string
  hint: string
  to?: string
  act?: () => Promise<boolean>
}
const made = useNewRecipe()
const PLACES: [string, string][] = [
  ['Recipes', '/'],
  ['At rest', '/rest'],
  ['Logbook', '/pours'],
  ['Write in a pour from a notebook', '/pours/past'],
  ['Score card', '/score-card'],
  ['Practice', '/practice'],
  ['Fragrances', '/shelf'],
  ['Ingredients', '/ingredients'],
  ['Colours', '/colours'],
  ['Stock and prices', '/stock'],
  ['Workshop: scales, copies, archive', '/workshop'],
  ['Words of soap making', '/words'],
]
const acts = computed<Row[]>(() => {
  const id = String(route.params.id ?? '')
  const here: [string, string][] = String(route.path).startsWith('/recipes/')
    ? [
        ['Recipe', `/recipes/${id}`],
        ['Forecast', `/recipes/${id}/forecast`],
        ['Plan', `/recipes/${id}/plan`],
        ['Compare', `/recipes/${id}/compare`],
        ['Bench sheet to print', `/recipes/${id}/bench-sheet`],
        ['Ready check, and the pour', `/recipes/${id}/ready`],
      ]
    : []
  const go = ([name, to]: [string, string], hint: string) => ({ key: to + name, name, hint, to })
  return [
    ...here.map((x) => go(x, 'this recipe')),
    { key: 'new', name: 'New recipe', hint: 'make', act: () => made.run({}) },
    ...PLACES.map((x) => go(x, 'go to')),
  ]
})
const TO: Record<Schemas['Found']['kind'], (id: string, name: string) => string> = {
  recipe: (id) => `/recipes/${id}`,
  pour: (id) => `/pours/${id}`,
  rest: (id) => `/pours/${id}/rest`,
  fragrance: (id) => `/shelf/${id}`,
  ingredient: (_, name) => `/ingredients?find=${encodeURIComponent(name)}`,
  note: (id) => `/pours/${id}/rest`,
  word: (id) => `/words#${id}`,
}
const WORDS = {
  recipe: 'recipe',
  pour: 'being poured',
  rest: 'batch',
  fragrance: 'fragrance',
  ingredient: 'ingredient',
  note: 'note',
  word: 'what it means',
} as const
const rows = computed<Row[]>(() => {
  const said = words.value.toLowerCase().split(/\s+/).filter(Boolean)
  const fit = acts.value.filter((a) => said.every((w) => a.name.toLowerCase().includes(w)))
  const found = (asked.value && words.value.trim() ? (data.value?.found ?? []) : []).map((f) => ({
    key: f.kind + f.id + f.name,
    name: f.name,
    hint: [WORDS[f.kind], f.hint].filter(Boolean).join(', '),
    to: TO[f.kind](f.id, f.name),
  }))
  return [...found, ...fit]
})
async function pick(row: Row | null) {
  if (!row) return
  try {
    if (row.to) await router.push(row.to)
    if (row.act && !(await row.act())) trouble.value = made.trouble.value
    else emit('close')
  } catch (problem) {
    trouble.value = (problem as Error).message
  }
}
</script>

<template>
  <Dialog :open="open" class="relative z-50" @close="emit('close')">
    <div class="fixed inset-0 bg-ink/40" aria-hidden="true" />
    <div class="fixed inset-0 flex items-start justify-center p-4 pt-[12vh] max-sm:p-2">
      <DialogPanel class="w-full max-w-xl rounded-xl bg-chalk text-ink shadow-xl">
        <DialogTitle class="sr-only">Find or go</DialogTitle>
        <Combobox :model-value="null" nullable @update:model-value="pick">
          <ComboboxInput
            class="w-full rounded-t-xl bg-transparent px-5 py-4 text-xl outline-none"
            placeholder="Find a recipe, scent, word … or go"
            aria-label="Find or go"
            autocomplete="off"
            @change="words = $event.target.value"
          />
          <p v-if="trouble || error" class="message px-5 pb-2" role="alert">
            {{ trouble || error?.message }}
          </p>
          <ComboboxOptions static class="max-h-[50vh] overflow-auto border-t border-rule pb-2">
            <li v-if="!rows.length" class="px-5 py-3 text-quiet">
              {{ asked ? `Nothing like “${words}”.` : 'Looking …' }}
            </li>
            <ComboboxOption v-for="r in rows" :key="r.key" v-slot="{ active }" :value="r" as="template">
              <li
                class="flex min-h-11 cursor-pointer items-baseline justify-between gap-4 px-5 py-1.5"
                :class="active ? 'bg-paper' : ''"
              >
                <b class="min-w-0 truncate font-semibold">{{ r.name }}</b>
                <span class="note shrink-0">{{ r.hint }}</span>
              </li>
            </ComboboxOption>
          </ComboboxOptions>
        </Combobox>
      </DialogPanel>
    </div>
  </Dialog>
</template>
