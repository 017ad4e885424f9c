<script setup lang="ts">
/** A small drawing of what a word means: a stage of the batter, a cut face, a vessel, or what is seen. */
import { computed } from 'vue'
import { shade, STAGES, TRAIL, inkOn } from '../ribbon/batter'
import CutFace from '../support/CutFace.vue'

const props = defineProps<{ picture: string; face: string }>()
const kind = computed(() => props.picture.split(':')[0] ?? '')
const of = computed(() => props.picture.split(':')[1] ?? '')
const stage = computed(() => STAGES[Number(of.value) - 1] ?? 'emulsion')

const JUG = 'M12 8Q16 8 16 13V34Q16 38 20 38H36Q40 38 40 34V8M40 14Q50 14 50 22T40 30'
const POT = 'M6 10H12V34Q12 39 17 39H43Q48 39 48 34V10H54'
const CUP = 'M14 12H46L41 38H19Z'
/** Lines (d) and filled shapes (f) of each drawing, in a 60 by 44 box. */
const DRAWN: Record<string, { d?: string; f?: string; hue?: string }[]> = {
  jug: [{ f: 'M16 22H40V34Q40 38 36 38H20Q16 38 16 34Z', hue: 'var(--color-jug)' }, { d: JUG }],
  pot: [
    { f: 'M12 20Q22 15 30 20T48 20V34Q48 39 43 39H17Q12 39 12 34Z', hue: 'var(--color-pot)' },
    { d: POT },
  ],
  stir: [{ f: 'M16 22H44L41 38H19Z', hue: 'var(--color-stir)' }, { d: `${CUP}M32 26L44 4` }],
  cups: [
    { f: 'M4 22H18L16 38H6Z', hue: 'var(--color-pot)' },
    { f: 'M23 22H37L35 38H25Z', hue: 'var(--color-jug)' },
    { f: 'M42 22H56L54 38H44Z', hue: 'var(--color-stir)' },
    { d: 'M3 14H19L16 38H6ZM22 14H38L35 38H25ZM41 14H57L54 38H44Z' },
  ],
  join: [
    { f: 'M6 16A12 12 0 1 0 30 28L30 16Z', hue: 'var(--color-pot)' },
    { f: 'M54 16A12 12 0 1 1 30 28V16Z', hue: 'var(--color-jug)' },
    { d: 'M8 12L20 20M52 12L40 20' },
  ],
  superfat: [
    { f: 'M6 16H48V28H6Z', hue: 'var(--color-pot)' },
    { f: 'M48 16H54V28H48Z', hue: 'var(--color-stir)' },
    { d: 'M6 16H54V28H6ZM51 34V40M47 37L51 34L55 37' },
  ],
  warning: [{ d: 'M30 6L54 38H6ZM30 18V28M30 32V34', hue: 'var(--color-iron)' }],
  scale: [{ d: 'M8 30H52L48 40H12ZM16 30V24H44V30M24 35H36' }],
  band: [
    { f: 'M4 16H24V28H4Z', hue: 'var(--color-lather)' },
    { f: 'M24 16H38V28H24Z', hue: 'var(--color-firm)' },
    { f: 'M38 16H56V28H38Z', hue: 'var(--color-mild)' },
  ],
  fast: [{ d: 'M4 34H56M8 34Q24 32 30 20T52 8M44 7L53 7L50 16' }],
  false: [
    { f: 'M12 20H48V34Q48 39 43 39H17Q12 39 12 34Z', hue: 'var(--color-pot)' },
    { d: `${POT}M20 26L24 30M24 26L20 30M34 31L38 35M38 31L34 35M30 4V12M26 6L34 10M34 6L26 10` },
  ],
  grains: [
    { f: 'M16 20H44L41 38H19Z', hue: 'var(--color-pale)' },
    { d: `${CUP}M21 24H22M28 23H29M36 25H37M24 30H25M32 29H33M38 32H39M22 35H23M29 35H30M35 36H36` },
  ],
  block: [{ f: 'M14 14H46V38H14Z', hue: '#457977' }, { d: 'M14 14H46V38H14ZM30 4V22M26 4H34' }],
  apart: [
    { f: 'M16 18H44L43 26H17Z', hue: 'var(--color-pot)' },
    { f: 'M17 26H43L41 38H19Z', hue: 'var(--color-pale)' },
    { d: `${CUP}M17 26H43` },
  ],
  stick: [{ d: 'M30 4V26M26 4H34V14H26ZM24 26H36L38 34H22ZM14 40H46' }],
  thermometer: [
    { f: 'M30 30m-6 0a6 6 0 1 0 12 0a6 6 0 1 0-12 0', hue: 'var(--color-pot)' },
    { d: 'M27 25V8Q27 5 30 5T33 8V25A7 7 0 1 1 27 25ZM37 10H42M37 16H42M37 22H42' },
  ],
  layers: [
    { f: 'M10 28H50V38H10Z', hue: '#a4553a' },
    { f: 'M10 18H50V28H10Z', hue: '#e6dcc3' },
    { f: 'M10 8H50V18H10Z', hue: '#6f8f72' },
    { d: 'M10 4V38H50V4' },
  ],
  bottle: [{ f: 'M20 24H40V38H20Z', hue: 'var(--color-stir)' }, { d: 'M26 4H34V12L40 18V38H20V18L26 12Z' }],
  brown: [
    { f: 'M4 14H20V34H4Z', hue: '#efe6d2' },
    { f: 'M22 14H38V34H22Z', hue: '#c79a62' },
    { f: 'M40 14H56V34H40Z', hue: '#7b4d2c' },
  ],
  embed: [
    { f: 'M10 10H50V38H10Z', hue: '#e6dcc3' },
    { f: 'M30 16L38 24L30 32L22 24Z', hue: '#6f8f72' },
    { d: 'M10 10H50V38H10Z' },
  ],
  loaf: [
    { f: 'M4 18H44V38H4Z', hue: 'var(--color-pale)' },
    { d: 'M12 8H56L44 18H4ZM4 18V38H44V18M44 38L56 28V8' },
  ],
  gel: [
    { f: 'M10 10H50V38H10Z', hue: '#e6dcc3' },
    { f: 'M30 24m-13 0a13 9 0 1 0 26 0a13 9 0 1 0-26 0', hue: '#c79a62' },
    { d: 'M10 10H50V38H10Z' },
  ],
  ash: [
    { f: 'M10 14H50V38H10Z', hue: '#6f8f72' },
    { f: 'M10 10H50V17Q40 20 30 17T10 18Z', hue: '#f3f5f0' },
    { d: 'M10 10H50V38H10Z' },
  ],
  crack: [
    { f: 'M8 16H52V38H8Z', hue: '#c79a62' },
    { d: 'M8 16H52V38H8ZM28 16L32 22L27 27L32 33M20 8V11M30 4V10M40 8V11' },
  ],
  bars: [
    { f: 'M6 12H18V36H6ZM24 12H36V36H24ZM42 12H54V36H42Z', hue: '#e6dcc3' },
    { d: 'M6 12H18V36H6ZM24 12H36V36H24ZM42 12H54V36H42Z' },
  ],
}
const shapes = computed(() => DRAWN[kind.value === 'vessel' ? of.value : kind.value] ?? [])
</script>

<template>
  <CutFace v-if="face" :code="face" :width="60" class="rounded" />
  <svg v-else-if="kind === 'trace'" viewBox="0 0 24 17.6" class="w-15 rounded" aria-hidden="true">
    <rect width="24" height="17.6" :fill="shade(Number(of))" />
    <path
      :d="TRAIL[stage]"
      transform="translate(0 3)"
      fill="none"
      :stroke="inkOn(Number(of))"
      stroke-width="1.3"
      stroke-linecap="round"
    />
  </svg>
  <svg v-else viewBox="0 0 60 44" class="w-15" aria-hidden="true">
    <template v-for="(s, i) in shapes" :key="i">
      <path v-if="s.f" :d="s.f" :fill="s.hue" fill-opacity=".75" />
      <path
        v-if="s.d"
        :d="s.d"
        fill="none"
        :stroke="s.hue ?? 'currentColor'"
        stroke-width="2"
        stroke-linecap="round"
        stroke-linejoin="round"
      />
    </template>
  </svg>
</template>
