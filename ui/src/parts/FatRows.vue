<script setup lang="ts">
/** The fats: grams and percent both editable, rows kept as they are while the rest is balanced. */
import { computed, ref } from 'vue'
import type { Line } from '../api/client'
import { useShelf } from '../api/queries'
import { injectDraft } from '../composables/useDraft'
import Figure from './Figure.vue'
import { grams } from './format'
import LedgerRow from './LedgerRow.vue'
import NumberField from './NumberField.vue'
import Says from './Says.vue'

const props = defineProps<{ lines: Line[] }>()
const draft = injectDraft()
const { data: shelf } = useShelf()
const recipe = computed(() => draft.recipe.value as NonNullable<typeof draft.recipe.value>)

const fat = (id: string) => shelf.value?.fats.find((f) => f.id === id)
const gramsOf = (id: string) => Number(grams(props.lines.find((l) => l.key === id)?.grams ?? 0))
/** What cannot be read hides all weights, but the field it stands in must stay, with the weight it had. */
const stuck = ref<{ fat: string; grams: number } | null>(null)
function readable(id: string, i: number, says: string | null) {
  stuck.value = says === null ? null : { fat: id, grams: stuck.value?.grams ?? gramsOf(id) }
  draft.readable(`grams ${id}`, `/fats/${i}/share`, says)
}
/** Locked rows, and the one typed in last, are what a balance leaves alone. */
const locked = ref(new Set<string>())
const kept = computed(() => {
  const typed = Number(/^\/fats\/(\d+)\/share$/.exec(draft.lastPointer.value)?.[1] ?? NaN)
  return recipe.value.fats.flatMap((row, i) => (i === typed || locked.value.has(row.fat) ? [i] : []))
})
const keptNames = computed(() => kept.value.map((i) => fat(recipe.value.fats[i]?.fat ?? '')?.name).join(', '))
function lock(id: string) {
  if (!locked.value.delete(id)) locked.value.add(id)
}
</script>

<template>
  <Says :faults="draft.faultsAt('/fats')" @mend="draft.mend" />
  <button
    v-if="draft.faultsAt('/fats').length && recipe.fats.length > 1"
    type="button"
    class="pb-1 text-sm underline"
    @click="draft.adjust({ kind: 'balance', keep: kept })"
  >
    {{ kept.length ? `Keep ${keptNames}, scale the others` : 'Scale all to 100 %' }}
  </button>
  <ol>
    <li v-for="(row, i) in recipe.fats" :key="row.fat" class="row group relative">
      <LedgerRow
        :name="fat(row.fat)?.name ?? row.fat"
        :pointer="`/fats/${i}/share`"
        @out="draft.edit(`out ${row.fat}`, (d) => void d.fats.splice(i, 1))"
      >
        <template #name>
          {{ fat(row.fat)?.name ?? row.fat }}
          <span v-if="fat(row.fat)?.melts" class="note max-xl:hidden" title="where it turns clear"
            >{{ fat(row.fat)?.melts }} °C</span
          >
          <button
            type="button"
            class="lock"
            :aria-pressed="locked.has(row.fat)"
            :aria-label="`Keep ${fat(row.fat)?.name} as it is when the rest is balanced`"
            title="keep as it is when the rest is balanced"
            @click="lock(row.fat)"
          >
            {{ locked.has(row.fat) ? 'kept' : 'keep' }}
          </button>
        </template>
        <template v-if="lines.length || stuck?.fat === row.fat" #weight
          ><NumberField
            class="justify-self-end font-semibold"
            :model-value="stuck?.fat === row.fat ? stuck.grams : gramsOf(row.fat)"
            :label="`${fat(row.fat)?.name}, grams`"
            unit="g"
            width="w-16"
            hide-label
            bare
            lazy
            @update:model-value="(g) => draft.adjust({ kind: 'fat_grams', row: i, grams: g })"
            @unreadable="(says) => readable(row.fat, i, says)"
        /></template>
        <Figure
          :pointer="`/fats/${i}/share`"
          :label="`${fat(row.fat)?.name}, percent of fats`"
          unit="%"
          :scale="100"
          width="w-13"
          hide-label
          bare
        />
      </LedgerRow>
      <Says :faults="draft.faultsAt(`/fats/${i}/fat`)" />
      <span
        class="absolute bottom-0 left-0 h-0.75 bg-pot"
        :style="{ width: `${Math.min(Math.max(row.share, 0), 1) * 100}%` }"
        aria-hidden="true"
      />
    </li>
  </ol>
</template>
