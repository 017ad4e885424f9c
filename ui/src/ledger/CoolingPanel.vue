<script setup lang="ts">
/** When are jug and pot ready to meet? A band and a gap, and what the thermometer says. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { api, take, type Recipe } from '../api/client'
import { injectDraft } from './useDraft'
import { recall, remember } from '../support/known'
import { useElementSize } from '@vueuse/core'
import NumberField from '../fields/NumberField.vue'
import { inField, warmer, warmth } from '../support/quantity'

const draft = injectDraft()
const open = ref(false)
const GAPS = { '3': `within ${warmer(3)}`, '6': `within ${warmer(6)}`, '100': 'any gap' }
type Reading = { vessel: 'jug' | 'pot'; minute: number; celsius: number }
const kept = `readings ${draft.id}`
const ask = reactive({
  low: 0,
  high: 0,
  gap: '6' as keyof typeof GAPS,
  after: 0,
  readings: recall<Reading[]>(kept, 'tab') ?? [],
})
watch(
  () => draft.weighed.value?.heat?.wanted?.pot ?? draft.recipe.value?.pour_celsius,
  (celsius) => {
    if (celsius !== undefined) Object.assign(ask, { low: celsius - 3, high: celsius + 3 })
  },
  { immediate: true },
)
watch(
  () => ask.readings,
  (readings) => remember(kept, readings, 'tab'),
  { deep: true },
)
const of = (vessel: Reading['vessel']) =>
  ask.readings.filter((r) => r.vessel === vessel).map(({ minute, celsius }) => ({ minute, celsius }))
const body = computed(() => ({
  recipe: draft.recipe.value as Recipe,
  band: { low: ask.low, high: ask.high },
  gap: Number(ask.gap),
  lye_after: ask.after,
  jug: of('jug'),
  pot: of('pot'),
}))
const { data, error } = useQuery({
  queryKey: ['cooling', body],
  queryFn: () => take(api.POST('/api/cooling', { body: body.value })),
  enabled: computed(() => open.value && draft.sheet.value !== null && draft.current.value),
  placeholderData: (before) => before,
  retry: false,
})

const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box, { width: 600, height: 0 })
const LONGEST = 240
const HEIGHT = 150
const x = (minute: number) => 30 + (minute / LONGEST) * (width.value - 40)
const y = (celsius: number) => HEIGHT - 18 - ((celsius - 15) / 80) * (HEIGHT - 26)
const vessels = computed(() =>
  (['jug', 'pot'] as const).map((key) => {
    const v = data.value?.[key]
    const until = v ? Math.min(v.middle.length, LONGEST / v.every + 1) : 0
    const at = (values: number[]) =>
      values.slice(0, until).map((c, i) => `${x(i * (v?.every ?? 10)).toFixed(1)},${y(c).toFixed(1)}`)
    return {
      key,
      hue: key === 'jug' ? 'var(--color-jug)' : 'var(--color-pot)',
      line: v ? at(v.middle).join(' ') : '',
      span: v ? [...at(v.low), ...at(v.high).reverse()].join(' ') : '',
    }
  }),
)
const marks = computed(() =>
  ask.readings.map((r) => ({ ...r, x: x(r.minute + (r.vessel === 'jug' ? Math.max(ask.after, 0) : 0)) })),
)
</script>

<template>
  <details :open="open" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary class="cursor-pointer text-sm">When jug and pot can meet</summary>
    <div class="grid gap-x-9 gap-y-3 pt-2 lg:grid-cols-[20rem_minmax(0,1fr)]">
      <div>
        <div class="flex flex-wrap items-end gap-x-4 gap-y-1">
          <NumberField v-model="ask.low" label="from" unit="°C" width="w-11" />
          <NumberField v-model="ask.high" label="to" unit="°C" width="w-11" />
          <select v-model="ask.gap" class="field mb-0.5" aria-label="How near each other">
            <option v-for="(words, gap) in GAPS" :key="gap" :value="gap">{{ words }}</option>
          </select>
        </div>
        <NumberField
          v-model="ask.after"
          class="pt-1"
          label="lye mixed, minutes after the fats were melted (before: minus)"
          unit="min"
          width="w-12"
          :step="5"
        />
        <ol class="pt-1">
          <li v-for="(r, i) in ask.readings" :key="i" class="row flex items-center gap-2">
            <select v-model="r.vessel" class="field" aria-label="Which vessel">
              <option value="jug">lye jug</option>
              <option value="pot">fat pot</option>
            </select>
            <NumberField
              v-model="r.minute"
              label="Minutes since it was hot"
              unit="min"
              width="w-11"
              hide-label
            />
            <NumberField v-model="r.celsius" label="Reading" unit="°C" width="w-11" hide-label />
            <button
              type="button"
              class="take-out ml-auto"
              :aria-label="`Take out reading ${i + 1}`"
              @click="ask.readings.splice(i, 1)"
            >
              ×
            </button>
          </li>
        </ol>
        <button
          v-if="ask.readings.length < 6"
          type="button"
          class="min-h-6 pt-1 text-sm underline"
          @click="
            ask.readings.push({ vessel: ask.readings.at(-1)?.vessel ?? 'jug', minute: 30, celsius: 50 })
          "
        >
          Add a reading of the thermometer
        </button>
        <p v-if="error" class="message" role="alert">{{ error.message }}</p>
      </div>
      <div v-if="data">
        <p class="font-semibold">{{ data.message }}</p>
        <p class="note">
          Put together after {{ data.best.toFixed(0) }} min they make {{ warmth(data.combined)
          }}<template v-if="data.solid > 0.01"
            >, with {{ (100 * data.solid).toFixed(0) }} % of the fats still solid</template
          >. A thermometer decides.
        </p>
        <div ref="box" class="pt-1">
          <svg :viewBox="`0 0 ${width} ${HEIGHT}`" class="block w-full" role="img" :aria-label="data.message">
            <rect
              :x="30"
              :y="y(ask.high)"
              :width="Math.max(width - 40, 0)"
              :height="Math.max(y(ask.low) - y(ask.high), 0)"
              fill="var(--color-stir)"
              fill-opacity=".12"
            />
            <rect
              v-if="data.window"
              :x="x(data.window.low)"
              y="4"
              :width="Math.max(x(Math.min(data.window.high, LONGEST)) - x(data.window.low), 2)"
              :height="HEIGHT - 22"
              fill="var(--color-stir)"
              fill-opacity=".16"
            />
            <g fill="var(--color-quiet)" font-size="11.5" class="fig">
              <text v-for="c in [20, 40, 60, 80]" :key="c" x="24" :y="y(c) + 4" text-anchor="end">
                {{ inField(c, '°C', 0) }}
              </text>
              <text
                v-for="m in [0, 60, 120, 180, 240]"
                :key="m"
                :x="x(m)"
                :y="HEIGHT - 3"
                text-anchor="middle"
              >
                {{ m }}
              </text>
            </g>
            <g v-for="v in vessels" :key="v.key">
              <polygon :points="v.span" :fill="v.hue" fill-opacity=".13" />
              <polyline :points="v.line" fill="none" :stroke="v.hue" stroke-width="2" />
            </g>
            <circle
              v-for="(m, i) in marks"
              :key="i"
              :cx="m.x"
              :cy="y(m.celsius)"
              r="4"
              fill="var(--color-paper)"
              :stroke="m.vessel === 'jug' ? 'var(--color-jug)' : 'var(--color-pot)'"
              stroke-width="2"
            />
          </svg>
        </div>
        <p class="note">
          minutes after the fats were melted · <b class="text-jug">lye jug</b> ·
          <b class="text-pot">fat pot</b> · middle and 80 in 100
        </p>
      </div>
    </div>
  </details>
</template>
