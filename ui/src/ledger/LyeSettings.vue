<script setup lang="ts">
/** Superfat, water and purity; ice, a stock lye and potassium hydroxide for those who use them. */
import { computed, ref, watch } from 'vue'
import type { Sheet } from '../api/client'
import { useShelf } from '../api/queries'
import { injectDraft } from './useDraft'
import Figure from '../fields/Figure.vue'
import { number, percent } from '../support/format'
import Message from '../fields/Message.vue'
import WaterRule from './WaterRule.vue'
import { weight } from '../support/quantity'

defineProps<{ sheet: Sheet | null }>()
const draft = injectDraft()
const recipe = computed(() => draft.recipe.value)
const { data: shelf } = useShelf()
const acids = computed(() =>
  recipe.value?.additives.some((d) => shelf.value?.additives.some((a) => a.id === d.additive && a.naoh > 0)),
)
const dispersing = computed(() => recipe.value?.additives.some((d) => d.carrier !== null))
// What is said about these would tear their one line apart: it stands below it.
const ABOVE = ['/water', '/water/share', '/water/parts', '/superfat', '/naoh_purity']
const unusual = computed(
  () =>
    !!recipe.value && (recipe.value.ice !== 0 || recipe.value.stock !== null || recipe.value.koh_share !== 0),
)
// Opened by what is set, closed only by the maker: it must not fold away under a field being cleared.
const open = ref(false)
watch(unusual, (is) => (open.value ||= is), { immediate: true })
</script>

<template>
  <div v-if="recipe">
    <div class="flex flex-wrap items-start gap-x-5 gap-y-1 pt-3">
      <WaterRule :sheet="sheet" bare />
      <Figure pointer="/superfat" label="superfat" unit="%" :scale="100" width="w-12" :step="0.5" bare />
      <Figure pointer="/naoh_purity" label="lye purity" unit="%" :scale="100" width="w-12" bare />
    </div>
    <Message
      v-for="at in ABOVE"
      :id="`message-${at}`"
      :key="at"
      :faults="draft.faultsAt(at)"
      :cautions="draft.cautionsAt(at)"
      @mend="draft.mend"
    />
    <p v-if="sheet" class="note pt-0.5">
      {{ percent(sheet.lye_concentration) }} % lye = {{ number(sheet.water_per_lye, 2) }} water to 1 lye =
      water {{ percent(sheet.water_of_fats) }} % of fats
    </p>
    <label v-if="acids" class="flex items-center gap-1.5 pt-1 text-sm">
      <input
        type="checkbox"
        class="size-4 accent-ink"
        :checked="recipe.feed_acids"
        @change="
          draft.edit('acids', (d) => void (d.feed_acids = ($event.target as HTMLInputElement).checked))
        "
      />
      acids get lye of their own
    </label>
    <Message :cautions="draft.cautionsAt('/feed_acids')" />
    <template v-if="dispersing">
      <label class="flex items-center gap-1.5 pt-1 text-sm">
        <input
          type="checkbox"
          class="size-4 accent-ink"
          :checked="recipe.count_carriers"
          @change="
            draft.edit(
              'carriers',
              (d) => void (d.count_carriers = ($event.target as HTMLInputElement).checked),
            )
          "
        />
        count what powders are dispersed in
      </label>
      <p v-if="sheet?.dispersed" class="note">
        {{ weight(sheet.dispersed.oil) }} oil and {{ weight(sheet.dispersed.water) }} water
        {{ recipe.count_carriers ? 'are part of the recipe' : 'come on top' }}: superfat
        {{ percent(sheet.superfat.set) }} % as set, {{ percent(sheet.superfat.with_liquids) }} % with them;
        lye {{ percent(sheet.dispersed.lye_concentration) }} %.
      </p>
    </template>
    <details class="pt-1" :open="open" @toggle="open = ($event.target as HTMLDetailsElement).open">
      <summary class="note cursor-pointer">ice, stock lye, potassium hydroxide</summary>
      <div class="flex flex-wrap items-start gap-x-5 gap-y-1 pt-1">
        <Figure pointer="/ice" label="water as ice" unit="%" :scale="100" width="w-11" :step="5" />
        <Figure
          pointer="/koh_share"
          label="potassium, of alkali"
          unit="%"
          :scale="100"
          width="w-11"
          :step="5"
        />
        <Figure
          v-if="recipe.koh_share !== 0"
          pointer="/koh_purity"
          label="its purity"
          unit="%"
          :scale="100"
          width="w-11"
        />
        <label class="flex items-center gap-1.5 self-end pb-1 text-sm">
          <input
            type="checkbox"
            class="size-4 accent-ink"
            :checked="recipe.stock !== null"
            @change="
              draft.edit(
                'stock',
                (d) => void (d.stock = ($event.target as HTMLInputElement).checked ? 0.5 : null),
              )
            "
          />
          stock lye
        </label>
        <Figure
          v-if="recipe.stock !== null"
          pointer="/stock"
          label="its strength"
          unit="%"
          :scale="100"
          width="w-11"
        />
      </div>
    </details>
  </div>
</template>
