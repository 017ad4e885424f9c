<script setup lang="ts">
/** The bench sheet: one page to print, everything in the order of work with a box to tick. */
import { printed } from '../support/paper'
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '../api/client'
import TopMap from '../plan/TopMap.vue'
import CutFace from '../support/CutFace.vue'
import { percent } from '../support/format'
import { onlyBench } from '../support/me'
import Swatch from '../support/Swatch.vue'
import { ownUnit, weight } from '../support/quantity'

const props = defineProps<{ id: string }>()
const { data, error } = useQuery({
  queryKey: ['worksheet', props.id],
  queryFn: () =>
    take(api.GET('/api/recipes/{recipe_id}/worksheet', { params: { path: { recipe_id: props.id } } })),
  staleTime: 0,
})
/** Where there is more to the top than batter as it was poured. */
const topped = computed(
  () =>
    !!data.value?.mould &&
    (data.value.mould.toppings.length > 0 || data.value.mould.top.texture !== 'as poured'),
)
const days = computed(() => data.value?.steps.at(-1)?.day ?? 1)
const print = () => window.print()
</script>

<template>
  <div
    class="worksheet mx-auto max-w-4xl bg-chalk px-8 py-6 max-sm:px-4 print:max-w-none print:bg-white print:p-0"
  >
    <p v-if="error" class="message" role="alert">{{ error.message }}</p>
    <template v-if="data">
      <div class="flex flex-wrap items-baseline gap-x-5 border-b-3 border-ink pb-1">
        <CutFace :code="data.face" :width="64" />
        <h1 class="text-2xl font-bold">{{ data.name }}</h1>
        <span class="fig text-sm">
          {{ data.sheet.total_shown }} batter · {{ data.sheet.fats_shown }} fats ·
          {{ percent(data.sheet.lye_concentration) }} % lye
          <template v-for="(b, i) in data.sheet.bars" :key="i">
            · {{ b.count }} × {{ weight(b.grams) }}</template
          >
        </span>
        <span class="ml-auto flex flex-wrap gap-3 print:hidden">
          <RouterLink :to="onlyBench() ? '/' : `/recipes/${id}`" class="key">{{
            onlyBench() ? 'Back' : 'Back to the recipe'
          }}</RouterLink>
          <a :href="`/api/recipes/${id}/bench-sheet.pdf?${printed('A4')}`" class="key" download>PDF, A4</a>
          <a :href="`/api/recipes/${id}/bench-sheet.pdf?${printed('Letter')}`" class="key" download
            >PDF, Letter</a
          >
          <button type="button" class="key key-main" @click="print">Print</button>
        </span>
        <span class="ml-auto hidden text-sm print:inline"
          >date ____________ room ______ {{ ownUnit('°C') }}</span
        >
      </div>
      <section
        v-for="(step, n) in data.steps"
        :key="`${step.day} ${step.title}`"
        class="grid break-inside-avoid gap-x-4 sm:grid-cols-[9.5rem_minmax(0,1fr)] print:grid-cols-[9.5rem_minmax(0,1fr)] border-b border-rule py-1"
      >
        <h2
          v-if="days > 1 && step.day !== data.steps[n - 1]?.day"
          class="col-span-full pt-2 text-lg font-bold"
        >
          Day {{ step.day }}
        </h2>
        <h2 class="text-sm font-bold">{{ n + 1 }}. {{ step.title }}</h2>
        <div>
          <ul v-if="step.lines.length" class="grid gap-x-6 sm:grid-cols-2 print:grid-cols-2">
            <li v-for="line in step.lines" :key="line.key" class="flex items-baseline gap-2 text-sm">
              <svg viewBox="0 0 10 10" class="w-2.5 shrink-0" aria-hidden="true">
                <rect x=".6" y=".6" width="8.8" height="8.8" fill="none" stroke="currentColor" />
              </svg>
              <span class="min-w-0"
                >{{ line.name
                }}<span v-if="line.note && line.kind !== 'liquid'" class="note">
                  · {{ line.note }}</span
                ></span
              >
              <b class="fig ml-auto whitespace-nowrap"
                >{{ line.shown
                }}<span v-if="line.also || line.spoons" class="pl-2 font-normal">{{
                  line.also || line.spoons
                }}</span></b
              >
            </li>
          </ul>
          <p class="text-[0.8125rem] leading-snug">{{ step.does }}</p>
          <ul
            v-if="step.cups.length"
            class="grid gap-x-6 print:grid-cols-2"
            :class="step.cups.some((c) => c.takes.length > 1) ? '' : 'sm:grid-cols-2'"
          >
            <li v-for="cup in step.cups" :key="cup.vessel" class="flex items-baseline gap-2 text-sm">
              <svg viewBox="0 0 10 10" class="w-2.5 shrink-0" aria-hidden="true">
                <rect x=".6" y=".6" width="8.8" height="8.8" fill="none" stroke="currentColor" />
              </svg>
              <Swatch :tint="cup.tint" />
              <b class="shrink-0 max-w-40 truncate">{{ cup.vessel }}</b>
              <span class="ml-auto text-right">
                <template v-for="(t, k) in cup.takes" :key="t.of"
                  >{{ k ? ' · ' : '' }}<b class="fig whitespace-nowrap">{{ t.shown }}</b
                  >{{ t.of ? ` ${t.of}` : '' }}</template
                >{{ cup.reads ? `, ${cup.reads}` : '' }}
              </span>
            </li>
          </ul>
          <ol v-if="step.pours.length">
            <li v-for="(p, k) in step.pours" :key="k" class="text-[0.8125rem] leading-snug">
              <Swatch v-for="(tint, s) in p.tints.slice(0, 6)" :key="s" :tint="tint" class="mr-0.5" />
              <b>{{ ` ${p.label}` }}</b>{{ p.shown ? ` ${p.shown}` : ''
              }}{{ p.minute === null ? '' : `, about minute ${Math.round(p.minute)}`
              }}{{ p.wants ? `, at ${p.wants}` : '' }}
              <span v-if="p.note" class="note">&nbsp;{{ p.note }}</span>
              <b v-if="p.ready" class="block pl-6">else {{ p.ready }}</b>
            </li>
          </ol>
          <TopMap
            v-if="step.pours.length && data.mould?.cuts && topped"
            class="py-1"
            :top="data.mould.top"
            :cuts="data.mould.cuts"
            :toppings="data.mould.toppings"
          />
          <p
            v-for="c in step.cautions"
            :key="c.message"
            class="text-[0.78rem] leading-snug font-semibold"
            :class="c.danger ? 'text-iron' : ''"
          >
            {{ c.message }}
          </p>
        </div>
      </section>
      <section
        class="grid break-inside-avoid gap-x-4 py-1 sm:grid-cols-[9.5rem_minmax(0,1fr)] print:grid-cols-[9.5rem_minmax(0,1fr)]"
        data-test="aid"
      >
        <h2 class="text-sm font-bold">First aid for lye</h2>
        <div>
          <p v-for="message in data.aid" :key="message" class="text-[0.78rem] leading-snug">{{ message }}</p>
        </div>
      </section>
    </template>
  </div>
</template>
