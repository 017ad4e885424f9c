<script setup lang="ts">
/** The mould from above: where it is cut, what stands on the top, and how the layers fill it. */
import { computed } from 'vue'
import type { Act } from '../api/client'
import { useShelf } from '../api/queries'
import Choose from '../fields/Choose.vue'
import Figure from '../fields/Figure.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'
import Message from '../fields/Message.vue'
import { injectDraft } from '../ledger/useDraft'
import { length } from '../support/quantity'
import TintPick from './TintPick.vue'
import TopMap from './TopMap.vue'

const draft = injectDraft()
const fill = computed(() => (draft.sheet.value ? draft.weighed.value?.ledger?.mould : null))
const size = computed(() => draft.recipe.value?.size)
const box = computed(() =>
  size.value?.kind === 'moulds' && size.value.moulds[0]?.shape === 'box' ? size.value.moulds[0] : null,
)
const toppings = computed(() => draft.recipe.value?.design.toppings ?? [])
type Topping = (typeof toppings.value)[number]
const long = computed(() => (box.value?.length ?? 0) * 10)
const { data: shelf } = useShelf()
const choices = computed(() => shelf.value?.steps.topping ?? {})
type Chosen = keyof typeof ABOUT
const ABOUT = { bars: 'on which bars', row: 'where on a bar', laid: 'how laid', pressed: 'how deep' }
const textures = computed(() => Object.fromEntries((shelf.value?.steps.textures ?? []).map((t) => [t, t])))
/** The last step that makes the top: its texture is what the top is made. */
const topRow = computed(() => (draft.foretold.value?.steps ?? []).map((s) => s.do).lastIndexOf('top'))
function texture(made: string) {
  const row = topRow.value
  const step = draft.foretold.value?.steps[row]
  if (step) void draft.adjust({ kind: 'change_step', row, step: { ...step, texture: made } } as Act)
}
const edit = (i: number, change: (t: (typeof toppings.value)[number]) => void) =>
  draft.edit(`/design/toppings/${i}`, (d) => {
    const one = d.design.toppings[i]
    if (one) change(one)
  })
</script>

<template>
  <section v-if="box" aria-labelledby="mould">
    <div class="ledger-head flex-wrap">
      <h2 id="mould">Top, mould and cuts</h2>
      <span v-if="fill" class="note">fills to {{ length(fill.height) }} of {{ length(fill.holds) }}</span>
    </div>
    <div class="flex flex-wrap gap-x-5 gap-y-1 pt-2 text-sm">
      <Figure pointer="/size/moulds/0/cut" label="bar" unit="mm" width="w-11" />
      <Figure pointer="/size/moulds/0/across" label="cut across" unit="mm" width="w-11" />
      <Figure pointer="/size/moulds/0/slant" label="at a slant" unit="°" width="w-11" :step="5" />
      <Figure pointer="/size/moulds/0/planks" label="horizontal layers" width="w-9" />
      <Figure pointer="/size/moulds/0/trim" label="trim" unit="mm" width="w-11" />
      <Figure pointer="/design/tilt" label="tilt" unit="°" width="w-11" :step="5" />
    </div>
    <TopMap v-if="fill?.cuts" class="mt-2" :top="fill.top" :cuts="fill.cuts" :toppings="fill.toppings" />
    <label v-if="topRow >= 0" class="flex items-baseline gap-2 pt-1 text-sm">
      the top is made
      <Choose
        :model-value="fill?.top.texture ?? 'as poured'"
        :options="textures"
        label="What is made of the top"
        @update:model-value="texture"
      />
    </label>
    <svg
      v-if="fill?.cuts?.level.length"
      :viewBox="`-2 -2 ${long + 4} ${fill.holds * 10 + 4}`"
      class="mt-1 block max-h-24 w-full"
      role="img"
      aria-label="From the side: where it is cut level"
    >
      <rect
        :width="long"
        :height="fill.holds * 10"
        fill="var(--color-chalk)"
        stroke="var(--color-ink)"
        stroke-width="1.6"
      />
      <line
        v-for="l in fill.cuts.level"
        :key="l"
        x1="0"
        :x2="long"
        :y1="fill.holds * 10 - l"
        :y2="fill.holds * 10 - l"
        stroke="var(--color-quiet)"
        stroke-width=".9"
        stroke-dasharray="4 3"
      />
    </svg>
    <p v-if="fill?.cuts" class="text-sm">{{ fill.cuts.message }}</p>
    <p v-for="message in fill?.message ?? []" :key="message" class="pt-0.5 text-sm">{{ message }}</p>
    <p v-if="fill?.ends" class="note pt-0.5">{{ fill.ends }}</p>
    <h3 class="pt-2 text-sm font-semibold">Toppings</h3>
    <ol>
      <li
        v-for="(t, i) in toppings"
        :key="i"
        class="row flex flex-wrap items-baseline gap-x-3 gap-y-1 py-1 text-sm"
      >
        <TintPick
          :tint="t.tint ?? '#8e2d44'"
          :name="t.name"
          @pick="(tint) => edit(i, (x) => void (x.tint = tint))"
        />
        <TextField
          class="w-36"
          :model-value="t.name"
          :label="`Topping ${i + 1}`"
          @update:model-value="(name) => edit(i, (x) => void (x.name = name))"
        />
        <NumberField
          :model-value="t.a_bar ?? 1"
          :label="`${t.name}, to a bar`"
          unit="a bar"
          hide-label
          width="w-9"
          @update:model-value="
            (n) => edit(i, (x) => void (x.a_bar = Math.min(Math.max(Math.round(n), 1), 12)))
          "
        />
        <NumberField
          :model-value="t.grams ?? 0"
          :label="`${t.name}, weight to a bar (0: counted)`"
          unit="g"
          hide-label
          width="w-10"
          :step="0.1"
          @update:model-value="(n) => n >= 0 && edit(i, (x) => void (x.grams = Math.min(n, 1000)))"
        />
        <Choose
          v-for="(options, field) in choices"
          :key="field"
          :model-value="String(t[field as Chosen] ?? Object.keys(options)[0])"
          :options="options"
          :label="`${t.name}: ${ABOUT[field as Chosen]}`"
          @update:model-value="(v) => edit(i, (x) => void Object.assign(x, { [field]: v }))"
        />
        <NumberField
          :model-value="t.wide ?? 8"
          :label="`${t.name}, width`"
          unit="mm"
          hide-label
          width="w-10"
          @update:model-value="(n) => n > 0 && edit(i, (x) => void (x.wide = Math.min(n, 200)))"
        />
        <span class="note">wide</span>
        <NumberField
          :model-value="t.high ?? 4"
          :label="`${t.name}, height`"
          unit="mm"
          hide-label
          width="w-10"
          @update:model-value="(n) => n >= 0 && edit(i, (x) => void (x.high = Math.min(n, 100)))"
        />
        <span class="note">high</span>
        <button
          type="button"
          class="take-out"
          :aria-label="`Take ${t.name || 'topping'} out`"
          @click="draft.edit('topping out', (d) => void d.design.toppings.splice(i, 1))"
        >
          ×
        </button>
        <span v-if="fill?.toppings[i]" class="w-full" :class="fill.toppings[i]?.message ? 'message' : 'note'">
          {{ fill.toppings[i]?.message || fill.toppings[i]?.told }}
        </span>
      </li>
    </ol>
    <button
      v-if="toppings.length < 12"
      type="button"
      class="min-h-6 pt-1 text-sm underline"
      @click="draft.edit('topping', (d) => void d.design.toppings.push({ name: 'Topping' } as Topping))"
    >
      Add a topping
    </button>
    <Message
      :faults="[
        ...draft.faultsAt('/design/tilt'),
        ...draft.faultsAt('/size/moulds/0/across'),
        ...draft.faultsAt('/size/moulds/0/trim'),
        ...draft.faultsAt('/size/moulds/0/slant'),
        ...draft.faultsAt('/size/moulds/0/planks'),
      ]"
    />
  </section>
</template>
