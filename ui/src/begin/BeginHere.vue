<script setup lang="ts">
/** For who has no recipe yet: five to begin with, each with what it teaches, and other ways in. */
import { useQuery } from '@tanstack/vue-query'
import { api, take } from '../api/client'
import { useNewRecipe } from '../api/writes'
import CutFace from '../support/CutFace.vue'
import UnitsForm from './UnitsForm.vue'
import ScalesForm from './ScalesForm.vue'
import UsualPour from './UsualPour.vue'

defineProps<{ first: boolean }>()
const { data } = useQuery({ queryKey: ['starters'], queryFn: () => take(api.GET('/api/starters')) })
const { run: begin, trouble } = useNewRecipe()
</script>

<template>
  <section v-if="data" class="grid gap-x-10 gap-y-6 pt-4 lg:grid-cols-[minmax(0,1fr)_20rem]">
    <div>
      <h2 class="text-2xl font-bold">
        {{ first ? 'Begin with one of these, and make it yours' : 'Begin with one of these' }}
      </h2>
      <p v-if="trouble" class="message pt-1" role="alert">{{ trouble }}</p>
      <ol class="mt-2 border-t-3 border-ink" aria-label="Starter recipes">
        <li v-for="s in data.starters" :key="s.id" class="row">
          <button
            type="button"
            class="grid w-full grid-cols-[4.5rem_minmax(0,1fr)] items-center gap-x-5 py-2.5 text-left hover:bg-chalk"
            @click="begin({ starter: s.id })"
          >
            <CutFace :code="s.face" :width="64" />
            <span>
              <b class="text-lg">{{ s.name }}</b>
              <span class="pl-3 text-sm text-quiet">{{ s.fats.join(', ') }}</span>
              <span class="block max-w-prose leading-snug">{{ s.teaches }}</span>
            </span>
          </button>
        </li>
      </ol>
    </div>
    <aside v-if="first" class="flex flex-col gap-5">
      <div>
        <h2 class="font-bold">You have a recipe already</h2>
        <p class="text-sm">
          <b>Paste recipes</b>, above, reads one or many, line by line in any unit. Or make a
          <b>new recipe</b>: oils first, then the lye is weighed as you type.
        </p>
      </div>
      <div>
        <h2 class="font-bold">You want to see it move first</h2>
        <p class="text-sm">
          <RouterLink to="/practice" class="underline">Practise a pour</RouterLink> on a batter with a hidden
          behaviour of its own. <code class="fig text-xs">./bin/demo</code> opens a workshop in full work.
        </p>
      </div>
      <div>
        <h2 class="font-bold">Your units, scales and room</h2>
        <UnitsForm class="pt-1" :first="!data.units_set" />
        <p class="note pt-3">Your scales show</p>
        <ScalesForm :scales="data.scales" />
        <p class="note pt-3">You pour at</p>
        <UsualPour :usual="data.usual" />
      </div>
    </aside>
  </section>
</template>
