<script setup lang="ts">
/** All windows on one line of time, days first and then weeks: bars fade at both edges; the next two are dark. */
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { dayWord } from '../support/when'
import { useElementSize } from '@vueuse/core'
import { dated } from '../support/dated'

const props = defineProps<{ rest: Schemas['RestNow']; ended: Date; hours: number; now: Date }>()
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box, { width: 1000, height: 0 })
const LEFT = computed(() => (width.value < 560 ? 76 : 132))
const DAYS = 7
const PART = 0.7 // of the width that the days take
const last = computed(() => Math.max(props.rest.cured.high + 72, 24 * 42))
const room = computed(() => Math.max(width.value - LEFT.value - 8, 100))
function x(hours: number): number {
  const near = 24 * DAYS
  if (hours <= near) return LEFT.value + (Math.max(hours, 0) / near) * room.value * PART
  const far = (Math.min(hours, last.value) - near) / (last.value - near)
  return LEFT.value + room.value * (PART + far * (1 - PART))
}
interface Row {
  name: string
  tool: string
  first: number
  sure: number
  late: number
  last: number
  before: string
  after: string
  dark: boolean
}
const NAMES: Record<string, string> = { unmould: 'Unmould', cut: 'Cut', bevel: 'Bevel', stamp: 'Stamp' }
const rows = computed<Row[]>(() => {
  const next = props.rest.next.slice(0, 2)
  const isNext = (what: string, tool: string) =>
    next.some((n) => n.what === what && (n.tool === '' || tool === '' || n.tool === tool))
  const found = props.rest.windows
    .filter((w) => props.rest.cut_at === null || !['unmould', 'cut'].includes(w.what))
    .map((w) => ({
      name: NAMES[w.what] as string,
      tool: w.tool,
      first: w.first,
      sure: w.sure,
      late: w.late,
      last: w.last,
      before: w.before,
      after: w.after,
      dark: isNext(w.what, w.tool),
    }))
  const { low, high } = props.rest.cured
  const middle = (low + high) / 2
  return [
    ...found,
    {
      name: 'Cured',
      tool: '',
      first: low,
      sure: middle,
      late: high,
      last: high,
      before: '',
      after: '',
      dark: isNext('judge-cured', ''),
    },
  ]
})
const ticks = computed(() => {
  const out: { x: number; words: string; week: boolean }[] = []
  const first = new Date(props.ended)
  first.setHours(24, 0, 0, 0)
  for (let n = 0; n < DAYS; n++) {
    const at = new Date(first.getTime() + n * 86_400_000)
    const hours = (at.getTime() - props.ended.getTime()) / 3_600_000
    if (hours < 24 * DAYS - 8)
      out.push({
        x: x(hours),
        words: dated(at, { weekday: 'short', day: 'numeric' }),
        week: false,
      })
  }
  const every = room.value < 500 ? 3 : room.value < 900 ? 2 : 1
  for (let week = 2; week * 168 < last.value; week += every) {
    const at = new Date(props.ended.getTime() + week * 7 * 86_400_000)
    out.push({
      x: x(week * 168),
      words: dated(at, { day: 'numeric', month: 'short' }),
      week: true,
    })
  }
  const shown: typeof out = []
  for (const t of out)
    if (
      t.x < width.value - 36 &&
      (t.week || Math.abs(t.x - x(props.hours)) > 24) &&
      (!shown.length || t.x - (shown.at(-1) as { x: number }).x > 46)
    )
      shown.push(t)
  return shown
})
const shade = (r: Row) => {
  const from = x(r.first)
  const span = Math.max(x(r.last) - from, 1)
  const at = (h: number) => `${(100 * (x(h) - from)) / span}%`
  const solid = r.dark ? 'var(--color-ink)' : 'var(--color-quiet)'
  return {
    left: `${from}px`,
    width: `${span}px`,
    background: `linear-gradient(90deg, transparent, ${solid} ${at(r.sure)}, ${solid} ${at(r.late)}, ${r.name === 'Cured' ? solid : 'transparent'})`,
  }
}
const message = (r: Row) => {
  const at = (h: number) => new Date(props.ended.getTime() + h * 3_600_000)
  return `${r.name} ${r.tool}: best ${dayWord(at(r.sure), props.now)} to ${dayWord(at(r.late), props.now)}`
}
</script>

<template>
  <figure ref="box" class="relative" aria-label="When to touch it">
    <div class="relative h-6 border-b-3 border-ink text-xs text-quiet">
      <span
        v-for="t in ticks"
        :key="t.x"
        class="absolute bottom-0.5 whitespace-nowrap"
        :style="{ left: `${t.x}px` }"
        >{{ t.words }}</span
      >
      <svg
        class="absolute -bottom-2 w-4"
        :style="{ left: `${x(24 * DAYS) - 8}px` }"
        viewBox="0 0 16 14"
        aria-hidden="true"
      >
        <path d="M0 14 L7 0 H16 L9 14Z" fill="var(--color-paper)" />
        <path d="M2 13 L8 1 M8 13 L14 1" stroke="var(--color-ink)" stroke-width="1.6" />
      </svg>
    </div>
    <div v-for="r in rows" :key="r.name + r.tool" class="row relative flex h-[1.9rem] min-h-0! items-center">
      <b class="text-[0.95rem]">{{ r.name }}</b>
      <span class="note pl-2">{{ r.tool }}</span>
      <span class="absolute h-3.5 rounded-xs" :style="shade(r)" role="img" :aria-label="message(r)" />
      <template v-if="r.dark && width > 700">
        <span
          v-if="r.before && x(r.first) - LEFT > 70"
          class="absolute text-xs whitespace-nowrap text-quiet"
          :style="{ right: `${width - x(r.first) + 6}px` }"
          >{{ r.before }}</span
        >
        <span
          v-if="r.after"
          class="absolute text-xs whitespace-nowrap text-quiet"
          :style="{ left: `${x(r.last) + 6}px` }"
          >{{ r.after }}</span
        >
      </template>
    </div>
    <span
      v-for="t in ticks"
      :key="`l${t.x}`"
      class="pointer-events-none absolute top-6 bottom-0 w-px bg-rule/60"
      :style="{ left: `${t.x}px` }"
    />
    <span
      v-if="hours < last"
      class="pointer-events-none absolute top-4 bottom-0 w-[3px] rounded bg-ink"
      :style="{ left: `${x(hours) - 1}px` }"
      data-test="now-line"
    />
    <span
      v-if="hours < last"
      class="absolute -top-1 -translate-x-1/2 bg-paper px-1 text-xs font-bold"
      :style="{ left: `${x(hours)}px` }"
      >now</span
    >
  </figure>
</template>
