<script setup lang="ts">
/** Every colourant: how it is dosed, what it became in this maker's hands, and what the record warns of. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { useSwatchMoments, type SwatchAt } from '../rest/moments'
import ShelfTabs from '../shelf/ShelfTabs.vue'
import { number } from '../support/format'

const { data, isPending, error } = useQuery({
  queryKey: ['fragrances', 'colours'],
  queryFn: () => take(api.GET('/api/colours')),
})
const find = ref('')
const moments = useSwatchMoments()
const GEL = { none: 'no gel', ring: 'a ring', full: 'gelled' } as const
const SHOWN = 6
const rows = computed(() =>
  (data.value?.colours ?? []).filter((c) => c.name.toLowerCase().includes(find.value.trim().toLowerCase())),
)
const at = (c: Schemas['ColourFile'], moment: SwatchAt) => c.swatches.filter((s) => s.at === moment)
/** What is expected of it where nothing was seen: its table's tint, aged. */
function expected(c: Schemas['ColourFile'], moment: SwatchAt): string | undefined {
  if (!c.expected) return undefined
  return moment === 'wet' || moment === 'scented'
    ? c.expected.wet
    : moment === 'cured'
      ? c.expected.cured
      : c.expected.cut
}
/** From the usual dose to the most. */
const doses = (c: Schemas['ColourFile'], of: (d: Schemas['DoseSaid']) => number, digits: number) =>
  [...new Set(c.doses.map((d) => number(of(d), digits)))].join(' to ')
const message = (s: Schemas['SwatchKept']) =>
  [
    `${s.recipe}, ${s.portion}`,
    `${number(s.dose, 1)} g per kg fats`,
    s.beside.length ? `with ${s.beside.join(', ')}` : 'alone',
    s.scents.length ? `scent ${s.scents.join(', ')}` : 'unscented',
    s.gelled ? GEL[s.gelled] : 'gel not told',
  ].join('; ')
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <ShelfTabs />
    <div class="flex flex-wrap items-baseline gap-4">
      <input v-model="find" class="field w-56" aria-label="Find a colourant" placeholder="Find a colourant" />
      <p class="note">solid seen, dashed only expected of its table; add what you see where a batch rests</p>
    </div>
    <p v-if="error" class="message pt-4" role="alert">{{ error.message }}</p>
    <p v-else-if="isPending" class="py-6" role="status">Reading the record …</p>
    <p v-else-if="!rows.length" class="py-6 text-lg">
      {{ find ? `Nothing like “${find}”.` : 'No colourant on the shelf yet: make one under Ingredients.' }}
    </p>
    <div v-else class="mt-3 border-t-3 border-ink">
      <div
        class="note hidden grid-cols-[15rem_repeat(5,minmax(0,1fr))] gap-x-3 border-b border-rule py-1 md:grid"
        aria-hidden="true"
      >
        <span>colourant, usual to most</span>
        <span v-for="m in moments" :key="m.at">{{ m.words }}</span>
      </div>
      <article
        v-for="c in rows"
        :key="c.additive"
        class="row grid gap-x-3 gap-y-1 py-2 md:grid-cols-[15rem_repeat(5,minmax(0,1fr))]"
        :aria-label="c.name"
      >
        <div>
          <h2 class="leading-tight font-bold">{{ c.name }}</h2>
          <p v-if="c.made" class="note leading-snug">{{ c.made }}</p>
          <p v-if="c.doses.length" class="note leading-snug">
            <b class="text-ink">{{ doses(c, (d) => d.fats, 1) }}</b> g/kg fats,
            {{ doses(c, (d) => d.batter, 1) }} g/kg batter
          </p>
          <p v-if="c.doses.length" class="note leading-snug">
            a cup {{ doses(c, (d) => d.cup, 1) }} g, {{ doses(c, (d) => d.spoons, 1) }} tsp
          </p>
        </div>
        <div v-for="m in moments" :key="m.at" class="flex flex-wrap content-start gap-1 max-md:items-center">
          <span class="note w-20 md:hidden">{{ m.words }}</span>
          <span
            v-for="(s, n) in at(c, m.at).slice(0, SHOWN)"
            :key="n"
            class="h-10 max-w-18 min-w-8 flex-1 rounded border-[1.5px] border-ink"
            :style="{ background: s.tint }"
            role="img"
            :aria-label="message(s)"
            :title="message(s)"
          />
          <span v-if="at(c, m.at).length > SHOWN" class="note self-center"
            >+{{ at(c, m.at).length - SHOWN }}</span
          >
          <span
            v-if="!at(c, m.at).length && expected(c, m.at)"
            class="h-10 w-18 rounded border-[1.5px] border-dashed border-quiet p-[3px]"
            role="img"
            :aria-label="`${c.name} ${m.words}, expected`"
          >
            <span class="block h-full rounded-sm opacity-75" :style="{ background: expected(c, m.at) }" />
          </span>
        </div>
        <p v-for="w in c.warnings" :key="w" class="message col-span-full">{{ w }}</p>
      </article>
    </div>
  </div>
</template>
