<script setup lang="ts">
/** The block cut across, for each way to rest it: solid gels likely, hatched possibly, blank not. A tap says it rests so. */
import { computed } from 'vue'
import type { Schemas } from '../api/client'

type Section = Schemas['Section']
const props = defineProps<{ sections: readonly Section[]; cover: string; open: boolean }>()
const emit = defineEmits<{ choose: [wrap: Section['wrap']] }>()

const NAMES: Record<Section['wrap'], string> = {
  cold: 'Cold place',
  open: 'Open',
  covered: 'Covered',
  insulated: 'Towel',
  oven: 'Warm oven',
}
const LID: Record<Section['wrap'], number> = { cold: 0, open: 0, covered: 3, insulated: 9, oven: 5 }
const FINE = 3 // drawn cells to one of the model's
const LIKELY = 0.6
const POSSIBLE = 0.2

/** Odds between the model's cells, straight from one to the next; only so that edges are drawn round. */
function smooth(cells: Section['cells']): number[][] {
  const up = cells[0]?.length ?? 0
  const at = (c: number, r: number) => {
    const col = cells[Math.min(Math.max(c, 0), cells.length - 1)] ?? []
    return col[Math.min(Math.max(r, 0), up - 1)] ?? 0
  }
  const out: number[][] = []
  for (let c = 0; c < cells.length * FINE; c++) {
    const column: number[] = []
    const fc = (c + 0.5) / FINE - 0.5
    for (let r = 0; r < up * FINE; r++) {
      const fr = (r + 0.5) / FINE - 0.5
      const [c0, r0] = [Math.floor(fc), Math.floor(fr)]
      const [dc, dr] = [fc - c0, fr - r0]
      column.push(
        at(c0, r0) * (1 - dc) * (1 - dr) +
          at(c0 + 1, r0) * dc * (1 - dr) +
          at(c0, r0 + 1) * (1 - dc) * dr +
          at(c0 + 1, r0 + 1) * dc * dr,
      )
    }
    out.push(column)
  }
  return out
}
const WIDE = 1.6 // times its height that the box is drawn wide
/** One path of all drawn cells from these odds on; both halves, for the left mirrors the right. */
function path(cells: number[][], from: number): string {
  const half = cells.length
  let d = ''
  cells.forEach((column, c) => {
    let r = 0
    while (r < column.length) {
      if ((column[r] as number) < from) {
        r++
        continue
      }
      let end = r
      while (end < column.length && (column[end] as number) >= from) end++
      const [y, h] = [36 - end, end - r]
      const [right, left, w] = [(half + c) * WIDE, (half - 1 - c) * WIDE, WIDE + 0.03]
      d += `M${right} ${y}h${w}v${h}h${-w}zM${left} ${y}h${w}v${h}h${-w}z`
      r = end
    }
  })
  return d
}
const drawn = computed(() =>
  props.sections.map((s) => {
    const cells = smooth(s.cells)
    return { ...s, likely: path(cells, LIKELY), possible: path(cells, POSSIBLE) }
  }),
)
const chosen = computed(() => (props.cover === 'oven-off' ? 'oven' : props.cover))
const ring = (s: Section) => s.ring >= s.none && s.ring >= s.full
</script>

<template>
  <ul class="grid grid-cols-2 gap-3 sm:grid-cols-3 lg:grid-cols-5">
    <li v-for="s in drawn" :key="s.wrap">
      <button
        type="button"
        class="w-full rounded-lg border-2 p-1.5 text-left"
        :class="chosen === s.wrap ? 'border-ink bg-chalk' : 'border-transparent hover:border-rule'"
        :aria-pressed="chosen === s.wrap"
        :disabled="!open"
        :title="open ? 'It rests so' : ''"
        @click="emit('choose', s.wrap)"
      >
        <svg viewBox="-1 -8 59.6 45.5" class="h-24 w-full" aria-hidden="true">
          <defs>
            <pattern
              :id="`possible-${s.wrap}`"
              width="3"
              height="3"
              patternUnits="userSpaceOnUse"
              patternTransform="rotate(45)"
            >
              <rect width="1.3" height="3" fill="var(--color-pot)" />
            </pattern>
          </defs>
          <rect
            v-if="LID[s.wrap]"
            x="0"
            :y="-LID[s.wrap] * 0.7"
            width="57.6"
            :height="LID[s.wrap] * 0.7"
            fill="var(--color-air)"
          />
          <rect width="57.6" height="36" fill="var(--color-chalk)" />
          <path :d="s.possible" :fill="`url(#possible-${s.wrap})`" />
          <path :d="s.likely" fill="var(--color-pot)" />
          <path
            d="M0 0V36H57.6V0"
            fill="none"
            stroke="var(--color-ink)"
            stroke-width="1"
            vector-effect="non-scaling-stroke"
          />
        </svg>
        <span class="block leading-tight">
          <b>{{ NAMES[s.wrap] }}</b>
          <span class="pl-1.5" :class="ring(s) ? 'font-semibold text-iron' : ''">{{ s.message }}</span>
        </span>
        <span class="note block leading-tight">{{ s.colours }}</span>
      </button>
    </li>
  </ul>
</template>
