<script setup lang="ts">
/** The fragrance or the blend, what its certificates allow, and what was noted of it. */
import { computed, ref } from 'vue'
import { api, take, type Recipe, type Sheet } from '../api/client'
import { useShelf } from '../api/queries'
import { useWrite } from '../api/writes'
import { injectDraft } from './useDraft'
import { useMoves } from './useMoves'
import { usePebbles } from './usePebbles'
import { useToWeigh } from './useToWeigh'
import Figure from '../fields/Figure.vue'
import { percent } from '../support/format'
import LedgerRow from './LedgerRow.vue'
import type { Vessel } from './moments'
import Message from '../fields/Message.vue'
import { shared } from '../support/shared'
import Told from '../support/Told.vue'

const props = defineProps<{ vessel: Vessel; sheet: Sheet | null }>()
const draft = injectDraft()
const moves = useMoves()
const pebbles = usePebbles()
const toWeigh = useToWeigh('fragrance')
const { data: shelf } = useShelf()

/** The portions that get some of it, where not all do. */
const tints = shared(() => pebbles((p) => p.scent > 0))

const here = computed(
  () => (draft.recipe.value?.design.scent_at === 'fats' ? 'pot' : 'stir') === props.vessel,
)
const rows = shared(() =>
  (here.value ? (draft.recipe.value?.scents ?? []) : []).map((scent, i) => ({
    scent,
    i,
    fragrance: shelf.value?.fragrances.find((f) => f.id === scent.fragrance),
    lines: props.sheet?.lines.filter((l) => l.kind === 'fragrance' && l.row === i) ?? [],
  })),
)
const apart = (fragrance: (typeof rows.value)[number]['fragrance']) =>
  !!fragrance?.parts?.length && !fragrance.bottled

const naming = ref<string | null>(null)
const { run, trouble: refused } = useWrite(
  (name: string, scents: Recipe['scents']) => take(api.POST('/api/blends', { body: { name, scents } })),
  {
    touches: ['shelf', 'fragrances'],
    done: async (made) => {
      const fragrance = made.fragrances[0]?.fragrance.id
      if (fragrance) await draft.adjust({ kind: 'use_blend', fragrance })
      naming.value = null
    },
    once: true,
  },
)
/** The scents as they stand become one fragrance of the shelf, and it takes their place. */
function keepAsBlend() {
  const [scents, name] = [draft.recipe.value?.scents, naming.value?.trim()]
  if (scents && name) void run(name, scents)
}
</script>

<template>
  <ol>
    <li
      v-for="row in rows"
      :key="row.scent.fragrance"
      class="row"
      v-bind="moves.handle({ kind: 'scent', row: row.i, from: vessel })"
    >
      <LedgerRow
        :name="row.fragrance?.name ?? 'not on the shelf'"
        :line="row.lines[0]"
        :pointer="`/scents/${row.i}/load`"
        :tints="tints"
        @out="draft.edit(`out ${row.scent.fragrance}`, (d) => void d.scents.splice(row.i, 1))"
      >
        <template v-if="apart(row.fragrance)" #weight><span /></template>
        <Figure
          :pointer="`/scents/${row.i}/load`"
          :label="`${row.fragrance?.name ?? 'fragrance'}, percent of the fats it goes into`"
          unit="%"
          :scale="100"
          :step="0.1"
          width="w-12"
          reckoned
          :quantity="toWeigh(row.i, `/scents/${row.i}/load`)"
          hide-label
          bare
        />
        <template #more>
          <RouterLink v-if="row.fragrance" :to="`/shelf/${row.scent.fragrance}`" class="underline">
            what is known of it
          </RouterLink>
          <span v-if="sheet?.limit" class="text-quiet">
            <template v-if="sheet.limit.cured > 0">
              {{ percent(sheet.limit.wet, 0) }} % of what the certificates allow in the wet bar,
              {{ percent(sheet.limit.cured, 0) }} % when cured.
            </template>
            <template v-if="sheet.limit.unknown.length">
              No limit is known for {{ sheet.limit.unknown.join(' and ') }}.
            </template>
          </span>
        </template>
      </LedgerRow>
      <ul v-if="apart(row.fragrance)" aria-label="Parts of the blend">
        <li v-for="l in row.lines" :key="l.key" class="ledger-row text-sm text-quiet">
          <span class="pl-4">{{ l.name }}</span>
          <span class="fig text-right font-semibold text-ink"><Told :text="l.shown" /></span>
        </li>
        <li class="pl-4">
          <button
            type="button"
            class="text-sm underline"
            @click="draft.adjust({ kind: 'blend_apart', fragrance: row.scent.fragrance })"
          >
            its parts as rows of their own
          </button>
        </li>
      </ul>
      <p v-if="row.fragrance?.note" class="border-l-4 border-stir pl-2 text-sm">{{ row.fragrance.note }}</p>
      <Message :faults="draft.faultsAt(`/scents/${row.i}/fragrance`)" />
    </li>
  </ol>
  <form
    v-if="rows.length > 1 && naming !== null"
    class="flex flex-wrap items-baseline gap-2 pt-1"
    @submit.prevent="keepAsBlend"
  >
    <input v-model="naming" class="field w-44" maxlength="80" aria-label="Name of the blend" autofocus />
    <button type="submit" class="key">Save the blend</button>
    <button type="button" class="text-sm underline" @click="naming = null">cancel</button>
    <span v-if="refused" class="message basis-full" role="alert">{{ refused }}</span>
  </form>
  <button
    v-else-if="rows.length > 1"
    type="button"
    class="pt-1 text-sm underline"
    @click="naming = rows.map((r) => r.fragrance?.name ?? '').join(' and ')"
  >
    save these as one blend
  </button>
</template>
