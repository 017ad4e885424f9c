<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { outbox } from '../keep/outbox'
import { onlyBench, wayTo } from './me'

const emit = defineEmits<{ find: [] }>()
const route = useRoute()
const { waiting, refused } = outbox
const id = computed(() => (String(route.path).startsWith('/recipes/') ? String(route.params.id) : null))
const work = computed(() =>
  id.value
    ? [
        { name: 'recipe', label: 'Recipe', to: `/recipes/${id.value}` },
        { name: 'forecast', label: 'Forecast', to: `/recipes/${id.value}/forecast` },
        { name: 'plan', label: 'Plan', to: `/recipes/${id.value}/plan` },
      ]
    : [],
)
const ALL = [
  { names: ['recipes'], label: 'Recipes', to: '/' },
  { names: ['rests', 'rest', 'calendar'], label: 'Rest', to: '/rest' },
  { names: ['pours', 'pour', 'past-pour', 'differ', 'score-card', 'year'], label: 'Logbook', to: '/pours' },
  { names: ['practice', 'practice-pour'], label: 'Practice', to: '/practice' },
  {
    names: ['shelf', 'fragrance', 'ingredients', 'colours', 'stock', 'others'],
    label: 'Shelf',
    to: '/shelf',
  },
  { names: ['workshop'], label: 'Workshop', to: '/workshop' },
]
const places = computed(() =>
  onlyBench()
    ? [
        { names: ['recipes', 'ready'], label: 'Pour', to: '/' },
        ...ALL.filter((p) => wayTo(p.names[0] ?? '') === true && p.to !== '/'),
      ]
    : ALL,
)
</script>

<template>
  <header class="border-b border-rule bg-chalk">
    <div
      class="mx-auto flex min-h-13 max-w-7xl flex-wrap items-center gap-x-8 gap-y-1 px-6 py-1.5 max-sm:px-4"
    >
      <RouterLink to="/" class="flex items-center gap-2.5 font-bold">
        <svg viewBox="0 0 32 24" class="w-7" aria-hidden="true">
          <ellipse cx="16" cy="12" rx="15" ry="11" fill="var(--color-ink)" />
          <path
            d="M4 12c4-5 8 4 12 0s8 4 12 0"
            fill="none"
            stroke="var(--color-dew)"
            stroke-width="2.6"
            stroke-linecap="round"
          />
        </svg>
        <span :class="work.length ? 'max-sm:sr-only' : ''">Round Stone</span>
      </RouterLink>
      <nav v-if="work.length" class="flex gap-6" aria-label="This recipe">
        <RouterLink
          v-for="p in work"
          :key="p.name"
          :to="p.to"
          class="border-b-3 py-1"
          :class="
            route.name === p.name ? 'border-ink font-bold' : 'border-transparent text-quiet hover:text-ink'
          "
        >
          {{ p.label }}
        </RouterLink>
      </nav>
      <RouterLink
        v-if="waiting.length || refused.length"
        :to="`/pours/${(waiting[0] ?? refused[0])?.pour}`"
        class="ml-auto font-semibold"
        :class="refused.length ? 'text-iron' : ''"
        role="status"
        data-test="outbox"
      >
        <template v-if="waiting.length">{{ waiting.length }} not saved yet</template>
        <template v-if="refused.length"> {{ refused.length }} not taken</template>
      </RouterLink>
      <button
        v-if="!onlyBench()"
        type="button"
        class="key min-h-8! py-0.5! text-sm text-quiet"
        :class="waiting.length || refused.length ? '' : 'ml-auto'"
        title="Find a recipe, batch, scent or note, or go anywhere (Ctrl K)"
        @click="emit('find')"
      >
        Find<span class="pl-2 text-xs max-sm:hidden">Ctrl K</span>
      </button>
      <nav class="flex flex-wrap gap-x-6 max-sm:ml-0 max-sm:gap-x-2.5 max-sm:text-sm" aria-label="Places">
        <RouterLink
          v-for="p in places"
          :key="p.label"
          :to="p.to"
          class="border-b-3 py-1"
          :class="
            p.names.includes(String(route.name))
              ? 'border-ink font-bold'
              : 'border-transparent text-quiet hover:text-ink'
          "
        >
          {{ p.label }}
        </RouterLink>
      </nav>
    </div>
  </header>
</template>
