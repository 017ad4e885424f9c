<script setup lang="ts">
/** A step of the design on the ribbon: hatched where the batter would be too thick, dotted where too thin. */
import { computed } from 'vue'
import type { StepForecast } from '../api/client'
import { chance } from '../support/format'

const props = defineProps<{
  id: string
  step: StepForecast
  odds: number
  risky: boolean
  tooThin: boolean
  x: number
  y: number
  width: number
  height: number
}>()

const risky = computed(() => !props.step.done && props.risky)
/** What makes it risky in this portion: dots where it is too thin, hatching where too thick. */
const thin = computed(() => !props.step.done && (risky.value ? props.tooThin : props.step.thicken.length > 0))
const NARROW = 76 // below this its odds in words do not fit
const upright = computed(() => props.width < NARROW && props.height > 50)
const tiny = computed(() => props.width < NARROW && !upright.value)
const ink = computed(() => (risky.value ? 'var(--color-iron)' : 'var(--color-ink)'))
const told = computed(() => (props.step.done ? 'done' : `fits ${chance(props.odds)}`))
const lines = computed(() => {
  if (upright.value) {
    const odds = String(Math.round(props.odds * 100))
    const word = props.step.label.split(/[ ,]/)[0] as string
    const tries = props.step.done ? [word] : [`${props.step.label} · ${odds}`, `${word} · ${odds}`, odds]
    return tries.filter((t) => t.length * 6.8 < props.height).slice(0, props.width > 13 ? 1 : 0)
  }
  if (tiny.value) return props.step.done || props.width < 22 ? [] : [String(Math.round(props.odds * 100))]
  const fits = props.width / 7.6
  const words = props.step.label.split(' ')
  const label: string[] = []
  for (const word of words) {
    const last = label.at(-1)
    if (last !== undefined && `${last} ${word}`.length <= fits) label[label.length - 1] = `${last} ${word}`
    else label.push(word)
  }
  const why = risky.value ? [thin.value ? 'too thin' : 'too thick'] : thin.value ? ['thin: a burst'] : []
  const lines = [...label, told.value, ...why]
  const room = Math.floor((props.height - 4) / 17)
  if (lines.length <= room) return lines
  const short = label.slice(0, Math.max(room - 1, 1))
  return [...short.map((l, i) => (i === short.length - 1 ? l.replace(/,$/, '') : l)), told.value]
})
const middle = computed(() => ({ x: props.x + props.width / 2, y: props.y + props.height / 2 }))
const strong = (i: number) => upright.value || i < lines.value.indexOf(told.value)
</script>

<template>
  <g :opacity="step.done ? 0.72 : 1">
    <defs>
      <pattern
        :id="`${id}-hatch`"
        width="8"
        height="8"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <line x1="0" y1="0" x2="0" y2="8" stroke="var(--color-iron)" stroke-width="2" stroke-opacity=".38" />
      </pattern>
      <pattern :id="`${id}-dots`" width="9" height="9" patternUnits="userSpaceOnUse">
        <circle cx="3" cy="3" r="1.3" fill="var(--color-ink)" fill-opacity=".38" />
      </pattern>
    </defs>
    <rect :x="x" :y="y" :width="width" :height="height" rx="7" fill="var(--color-lid)" fill-opacity=".8" />
    <rect
      v-if="risky || thin"
      :x="x"
      :y="y"
      :width="width"
      :height="height"
      rx="7"
      :fill="`url(#${id}-${thin ? 'dots' : 'hatch'})`"
    />
    <rect :x="x" :y="y" :width="width" :height="height" rx="7" fill="none" :stroke="ink" stroke-width="1.6" />
    <text
      v-for="(line, i) in lines"
      :key="i"
      :x="middle.x"
      :y="middle.y + (i - (lines.length - 1) / 2) * 17 + 4.5"
      :transform="upright ? `rotate(-90 ${middle.x} ${middle.y})` : undefined"
      text-anchor="middle"
      :fill="ink"
      :font-size="upright ? 13 : 13.5"
      :font-weight="strong(i) ? 700 : 500"
      :class="strong(i) ? '' : 'fig'"
      stroke="var(--color-lid)"
      stroke-opacity=".85"
      stroke-width="3.5"
      paint-order="stroke"
    >
      {{ line }}
    </text>
    <title>{{ step.label }}: {{ told }}; wants {{ step.wants }} trace</title>
  </g>
</template>
