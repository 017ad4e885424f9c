<script setup lang="ts">
/** Every technique as the bar it would leave in this batter, the likeliest first; and the maker's own patterns. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Recipe, type Schemas } from '../api/client'
import { usePutAway, useWrite } from '../api/writes'
import { injectDraft } from '../ledger/useDraft'
import CutFace from '../support/CutFace.vue'

const props = defineProps<{ techniques: readonly Schemas['TechniqueOutlook'][] }>()
const emit = defineEmits<{ done: [] }>()
const draft = injectDraft()
const { data: patterns } = useQuery({ queryKey: ['patterns'], queryFn: () => take(api.GET('/api/patterns')) })

const FAMILIES = {
  all: 'all',
  fluid: 'fluid',
  layer: 'layers',
  texture: 'texture',
  plain: 'one colour',
  finish: 'on top',
}
const family = ref<keyof typeof FAMILIES>('all')
const fits = ref(true)
const shown = computed(() =>
  props.techniques.filter(
    (t) => (family.value === 'all' || t.family === family.value) && (!fits.value || t.outlook || finishes(t)),
  ),
)
const now = computed(() => draft.recipe.value?.design)
const finishes = (t: Schemas['TechniqueOutlook']) => t.needs === 'goes on top of another'
const own = computed(() => (now.value?.steps.length ?? 0) > 0)

function use(t: Schemas['TechniqueOutlook']) {
  if (finishes(t)) void draft.adjust({ kind: 'add_finish', technique: t.technique })
  else
    draft.edit('technique', (d) => {
      d.design.technique = t.technique
      d.design.steps = []
      d.design.ready = []
    })
  emit('done')
}

const name = ref('')
const {
  run: keep,
  trouble: message,
  asks: asked,
} = useWrite(
  (replace: boolean) =>
    take(
      api.POST('/api/patterns', {
        body: { name: name.value, recipe: draft.recipe.value as Recipe, replace },
      }),
    ),
  { touches: ['patterns'], done: () => (name.value = '') },
)
const {
  gone,
  putAway: remove,
  bringBack,
} = usePutAway<{ id: string; name: string }>(
  ({ id }) => take(api.DELETE('/api/patterns/{pattern_id}', { params: { path: { pattern_id: id } } })),
  (id) => take(api.POST('/api/patterns/{pattern_id}/restore', { params: { path: { pattern_id: id } } })),
  ['patterns'],
)
function pattern(id: string) {
  void draft.adjust({ kind: 'use_pattern', pattern: id })
  emit('done')
}
</script>

<template>
  <section aria-labelledby="techniques" class="mt-2 border-y-3 border-ink bg-chalk px-4 py-3">
    <div class="flex flex-wrap items-baseline gap-x-6 gap-y-1">
      <h2 id="techniques" class="text-lg font-bold">Choose a technique</h2>
      <span class="note">as planned, of 100 pours of this batter by these portions</span>
      <span class="flex flex-wrap gap-1" role="group" aria-label="Kind">
        <button
          v-for="(words, key) in FAMILIES"
          :key="key"
          type="button"
          class="key px-2 py-0.5 text-sm"
          :class="family === key ? 'key-main' : ''"
          :aria-pressed="family === key"
          @click="family = key"
        >
          {{ words }}
        </button>
      </span>
      <label class="flex items-center gap-1.5 text-sm">
        <input v-model="fits" type="checkbox" class="size-4 accent-ink" /> only for {{ now?.portions.length }}
        {{ now?.portions.length === 1 ? 'colour' : 'colours' }}
      </label>
      <button type="button" class="key ml-auto" @click="emit('done')">Close</button>
    </div>
    <ol class="grid grid-cols-[repeat(auto-fill,minmax(8.2rem,1fr))] gap-x-3 gap-y-3 pt-3">
      <li v-for="t in shown" :key="t.technique">
        <button
          type="button"
          class="w-full text-left leading-tight"
          :class="t.technique === now?.technique ? 'outline-3 outline-offset-2 outline-ink' : ''"
          :disabled="!t.outlook && !finishes(t)"
          :title="t.how"
          @click="use(t)"
        >
          <CutFace :code="t.face" :width="120" :class="t.outlook || finishes(t) ? '' : 'opacity-45'" />
          <span class="block text-sm font-semibold">{{ t.name }}</span>
          <span v-if="t.outlook" class="fig text-sm">{{ Math.round(100 * t.outlook.drawn) }}</span>
          <span v-else class="note">{{ finishes(t) ? 'add it at the end' : t.needs }}</span>
        </button>
      </li>
    </ol>
    <div class="flex flex-wrap items-baseline gap-x-4 gap-y-1 pt-4">
      <h3 class="font-bold">Your patterns</h3>
      <label class="flex items-baseline gap-2">
        <span class="note">save this design as</span>
        <input
          v-model="name"
          class="field w-48"
          maxlength="80"
          aria-label="Name of the pattern"
          @keydown.enter="keep(false)"
        />
      </label>
      <button type="button" class="key" :disabled="!name.trim()" @click="keep(false)">
        Save the pattern
      </button>
      <span v-if="message" class="message" role="alert">{{ message }}</span>
      <button v-if="asked" type="button" class="key" @click="keep(true)">Put it in its place</button>
      <span v-if="gone" role="status">
        {{ gone.name }} is removed.
        <button type="button" class="underline" @click="bringBack(gone.id)">Bring it back</button>
      </span>
      <button
        v-if="own"
        type="button"
        class="ml-auto min-h-6 text-sm underline"
        @click="draft.edit('as the technique', (d) => void (d.design.steps = []))"
      >
        Back to the technique’s own steps
      </button>
    </div>
    <ol class="grid grid-cols-[repeat(auto-fill,minmax(8.2rem,1fr))] gap-3 pt-2">
      <li v-for="p in patterns?.patterns ?? []" :key="p.id" class="relative">
        <button type="button" class="w-full text-left leading-tight" @click="pattern(p.id)">
          <CutFace :code="p.face" :width="120" />
          <span class="block pr-5 text-sm font-semibold">{{ p.name }}</span>
          <span class="note"
            >{{ p.technique.toLowerCase() }}, {{ p.portions }}
            {{ p.portions === 1 ? 'portion' : 'portions' }}</span
          >
        </button>
        <button
          type="button"
          class="take-out absolute right-0 bottom-4"
          :aria-label="`Remove the pattern ${p.name}`"
          @click="remove({ id: p.id, name: p.name })"
        >
          ×
        </button>
      </li>
      <li v-if="!patterns?.patterns.length" class="note">
        None yet: what stands here can be kept and used on any recipe.
      </li>
    </ol>
  </section>
</template>
