<script setup lang="ts">
/** By weight of fats, or as much as the moulds hold: loaf, slab, tube, cavities, several at once. */
import { computed, toRaw } from 'vue'
import type { Recipe, Sheet } from '../api/client'
import { injectDraft } from './useDraft'
import { useShelf } from '../api/queries'
import Choose from '../fields/Choose.vue'
import Figure from '../fields/Figure.vue'
import NumberField from '../fields/NumberField.vue'
import Message from '../fields/Message.vue'
import EmbedRows from './EmbedRows.vue'
import { weight } from '../support/quantity'

const props = defineProps<{ sheet: Sheet | null }>()
const draft = injectDraft()
const size = computed(() => draft.recipe.value?.size)

type Mould = Extract<Recipe['size'], { kind: 'moulds' }>['moulds'][number]
const SHAPES: Record<Mould['shape'], string> = { box: 'loaf or slab', tube: 'tube', cavities: 'cavities' }
const fresh = (shape: Mould['shape']): Mould =>
  shape === 'box'
    ? { shape, count: 1, length: 24, width: 8, fill: 6, cut: 25, across: 0, trim: 0, planks: 1, slant: 0 }
    : shape === 'tube'
      ? { shape, count: 1, diameter: 7, fill: 25, cut: 25 }
      : { shape, count: 6, millilitres: 110 }

const { data: shelf } = useShelf()
const presets = computed(() => shelf.value?.moulds ?? [])
const bars = computed(() => (props.sheet?.bars ?? []).reduce((n, b) => n + b.count, 0))
/** A mould most makers have takes the place of the first. */
function use(mould: Mould) {
  draft.edit('mould', (d) => {
    if (d.size.kind === 'moulds') d.size.moulds[0] = structuredClone(toRaw(mould))
    else d.size = { kind: 'moulds', moulds: [structuredClone(toRaw(mould))], spare: 0 }
  })
}

function by(kind: 'fats' | 'moulds') {
  if (size.value?.kind === kind) return
  draft.edit('size', (d) => {
    d.size =
      kind === 'fats'
        ? { kind, grams: Number((props.sheet?.fats ?? 1000).toFixed(1)) }
        : { kind, moulds: [fresh('box')], spare: 0 }
  })
}
function moulds(what: string, change: (moulds: Mould[]) => void) {
  draft.edit(what, (d) => {
    if (d.size.kind === 'moulds') change(d.size.moulds)
  })
}
</script>

<template>
  <fieldset
    v-if="size"
    class="flex flex-wrap items-start gap-x-6 gap-y-2 border-b border-rule bg-chalk px-4 py-2"
    aria-label="Size"
  >
    <div class="flex basis-full flex-wrap items-center gap-2">
      <button v-for="p in presets" :key="p.id" type="button" class="key" @click="use(p.mould)">
        {{ p.name }}
      </button>
      <label v-if="size.kind === 'moulds'" class="ml-auto flex items-baseline gap-2">
        <span class="note">bars wanted</span>
        <NumberField
          :model-value="bars"
          label="Bars wanted"
          hide-label
          width="w-12"
          lazy
          @update:model-value="(count) => draft.adjust({ kind: 'bars_wanted', count: Math.round(count) })"
        />
      </label>
    </div>
    <span class="flex flex-col gap-1 pt-1">
      <label v-for="k in ['moulds', 'fats'] as const" :key="k" class="flex items-center gap-1.5">
        <input
          type="radio"
          name="size"
          :value="k"
          :checked="size.kind === k"
          class="size-4 accent-ink"
          @change="by(k)"
        />
        {{ k === 'moulds' ? 'by moulds' : 'by weight of oils' }}
      </label>
    </span>
    <Figure
      v-if="size.kind === 'fats'"
      pointer="/size/grams"
      label="all oils"
      unit="g"
      width="w-18"
      :step="10"
    />
    <div v-else class="flex flex-col gap-1">
      <div v-for="(m, i) in size.moulds" :key="i" class="flex flex-wrap items-end gap-x-3">
        <Figure :pointer="`/size/moulds/${i}/count`" label="how many" width="w-9" />
        <Choose
          class="mb-0.5"
          :model-value="m.shape"
          :options="SHAPES"
          label="Shape of the mould"
          @update:model-value="(shape) => moulds('shape', (all) => void (all[i] = fresh(shape)))"
        />
        <template v-if="m.shape === 'box'">
          <Figure :pointer="`/size/moulds/${i}/length`" label="length" unit="cm" width="w-11" />
          <Figure :pointer="`/size/moulds/${i}/width`" label="width" unit="cm" width="w-11" />
        </template>
        <Figure
          v-if="m.shape === 'tube'"
          :pointer="`/size/moulds/${i}/diameter`"
          label="across"
          unit="cm"
          width="w-11"
        />
        <Figure
          v-if="m.shape === 'cavities'"
          :pointer="`/size/moulds/${i}/millilitres`"
          label="each holds"
          unit="mL"
          width="w-14"
        />
        <template v-else>
          <Figure :pointer="`/size/moulds/${i}/fill`" label="filled to" unit="cm" width="w-11" :step="0.1" />
          <Figure :pointer="`/size/moulds/${i}/cut`" label="bars of" unit="mm" width="w-11" />
        </template>
        <span v-if="sheet?.bars[i]" class="note pb-1.5">
          {{ sheet.bars[i]?.count }} of {{ weight(sheet.bars[i]?.grams ?? 0) }}
        </span>
        <button
          v-if="size.moulds.length > 1"
          type="button"
          class="take-out"
          :aria-label="`Take out mould ${i + 1}`"
          @click="moulds('out mould', (all) => void all.splice(i, 1))"
        >
          ×
        </button>
      </div>
      <Message :faults="draft.faultsAt('/size/moulds')" />
      <span class="flex items-baseline gap-4">
        <button
          type="button"
          class="text-sm underline"
          @click="moulds('add mould', (all) => void all.push(fresh('cavities')))"
        >
          Add a mould
        </button>
        <button
          v-if="size.moulds.length > 1"
          type="button"
          class="text-sm underline"
          title="One master batter, each mould with its own additions"
          @click="draft.adjust({ kind: 'portion_per_mould' })"
        >
          A portion for each
        </button>
        <span class="text-sm"
          >spare <Figure pointer="/size/spare" label="spare" unit="%" :scale="100" width="w-9" hide-label
        /></span>
      </span>
    </div>
    <EmbedRows />
  </fieldset>
</template>
