<script setup lang="ts">
/** The mould from above: where it is cut, what stands on the top, and how the layers fill it. */
import { computed } from 'vue'
import Figure from '../fields/Figure.vue'
import NumberField from '../fields/NumberField.vue'
import TextField from '../fields/TextField.vue'
import Message from '../fields/Message.vue'
import { injectDraft } from '../ledger/useDraft'
import { length } from '../support/quantity'

const draft = injectDraft()
const fill = computed(() => (draft.sheet.value ? draft.weighed.value?.ledger?.mould : null))
const size = computed(() => draft.recipe.value?.size)
const box = computed(() =>
  size.value?.kind === 'moulds' && size.value.moulds[0]?.shape === 'box' ? size.value.moulds[0] : null,
)
const toppings = computed(() => draft.recipe.value?.design.toppings ?? [])
const long = computed(() => (box.value?.length ?? 0) * 10)
const wide = computed(() => (box.value?.width ?? 0) * 10)
const edit = (i: number, change: (t: (typeof toppings.value)[number]) => void) =>
  draft.edit(`/design/toppings/${i}`, (d) => {
    const one = d.design.toppings[i]
    if (one) change(one)
  })
</script>

<template>
  <section v-if="box" aria-labelledby="mould">
    <div class="ledger-head flex-wrap">
      <h2 id="mould">Mould and cut</h2>
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
    <svg
      v-if="fill?.cuts"
      :viewBox="`-2 -2 ${long + 4} ${wide + 4}`"
      class="mt-2 block max-h-40 w-full"
      role="img"
      :aria-label="fill.cuts.message"
    >
      <rect
        :width="long"
        :height="wide"
        fill="var(--color-chalk)"
        stroke="var(--color-ink)"
        stroke-width="1.6"
      />
      <line
        v-for="w in fill.cuts.wires"
        :key="w"
        :x1="w"
        :x2="w + fill.cuts.lean"
        :y1="wide"
        y2="0"
        stroke="var(--color-quiet)"
        stroke-width=".9"
        stroke-dasharray="4 3"
      />
      <line
        v-for="a in fill.cuts.across"
        :key="`a ${a}`"
        :y1="a"
        :y2="a"
        x1="0"
        :x2="long"
        stroke="var(--color-quiet)"
        stroke-width=".9"
        stroke-dasharray="4 3"
      />
      <g v-for="(t, n) in fill.toppings" :key="t.name + n">
        <ellipse
          v-for="at in t.at"
          :key="at"
          :cx="at"
          :cy="(wide * (n + 1)) / (fill.toppings.length + 1)"
          :rx="t.wide / 2"
          :ry="Math.min(t.wide / 2, wide / 3)"
          :fill="t.message ? 'var(--color-amiss)' : 'var(--color-pale)'"
          :stroke="t.message ? 'var(--color-iron)' : 'var(--color-stir)'"
        />
      </g>
    </svg>
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
    <h3 class="pt-2 text-sm font-semibold">On the top, along the bars</h3>
    <ol>
      <li v-for="(t, i) in toppings" :key="i" class="row flex flex-wrap items-baseline gap-x-3 py-1 text-sm">
        <TextField
          class="w-32 flex-1"
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
          :model-value="t.wide ?? 8"
          :label="`${t.name}, width`"
          unit="mm"
          hide-label
          width="w-10"
          @update:model-value="(n) => n > 0 && edit(i, (x) => void (x.wide = Math.min(n, 200)))"
        />
        <NumberField
          :model-value="t.high ?? 4"
          :label="`${t.name}, height`"
          unit="mm"
          hide-label
          width="w-10"
          @update:model-value="(n) => n >= 0 && edit(i, (x) => void (x.high = Math.min(n, 100)))"
        />
        <button
          type="button"
          class="take-out"
          :aria-label="`Take ${t.name || 'topping'} out`"
          @click="draft.edit('topping out', (d) => void d.design.toppings.splice(i, 1))"
        >
          ×
        </button>
        <span v-if="fill?.toppings[i]?.message" class="message w-full">{{ fill.toppings[i]?.message }}</span>
      </li>
    </ol>
    <button
      v-if="toppings.length < 12"
      type="button"
      class="min-h-6 pt-1 text-sm underline"
      @click="
        draft.edit(
          'topping',
          (d) => void d.design.toppings.push({ name: 'Topping', a_bar: 1, wide: 8, high: 4 }),
        )
      "
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
