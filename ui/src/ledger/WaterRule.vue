<script setup lang="ts">
/** Water by one of three customs; changing the custom keeps the water, since the server told it in all three. */
import { computed } from 'vue'
import type { Recipe, Sheet } from '../api/client'
import { injectDraft } from './useDraft'
import Choose from '../fields/Choose.vue'
import Figure from '../fields/Figure.vue'
import Message from '../fields/Message.vue'

/** `bare` leaves what is said to the place it stands in. */
const props = defineProps<{ sheet: Sheet | null; bare?: boolean }>()
const draft = injectDraft()

type By = Recipe['water']['by']
const CUSTOMS: Record<By, string> = {
  concentration: 'lye concentration',
  ratio: 'water to 1 of lye',
  fats: 'water, of fats',
}
const water = computed(() => draft.recipe.value?.water)

function custom(by: By) {
  const known = props.sheet
  draft.edit('water', (d) => {
    if (by === 'ratio') d.water = { by, parts: Number((known?.water_per_lye ?? 2).toFixed(3)) }
    else if (by === 'fats') d.water = { by, share: Number((known?.water_of_fats ?? 0.33).toFixed(4)) }
    else d.water = { by, share: Number((known?.lye_concentration ?? 0.33).toFixed(4)) }
  })
}
</script>

<template>
  <div v-if="water" class="flex flex-col gap-0.5">
    <Choose
      class="note border-0 p-0"
      :model-value="water.by"
      :options="CUSTOMS"
      label="How water is set"
      @update:model-value="custom"
    />
    <Figure
      v-if="water.by === 'ratio'"
      pointer="/water/parts"
      label="parts of water to one of lye"
      width="w-12"
      :step="0.1"
      hide-label
      :bare="bare"
    />
    <Figure
      v-else
      pointer="/water/share"
      :label="water.by === 'fats' ? 'water, percent of fats' : 'lye concentration'"
      unit="%"
      :scale="100"
      width="w-12"
      hide-label
      :bare="bare"
    />
    <Message v-if="!bare" :faults="draft.faultsAt('/water')" :cautions="draft.cautionsAt('/water')" />
  </div>
</template>
