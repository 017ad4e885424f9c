<script setup lang="ts">
/** A lane's batter from now to the horizon: its shade, the next step with its odds, and when it is too thick for it. */
import type { Schemas } from '../api/client'
import { shade } from '../ribbon/batter'

const props = defineProps<{ lane: Schemas['LaneNow']; minute: number; horizon: number }>()
const x = (minute: number) =>
  `${Math.min(Math.max((100 * (minute - props.minute)) / props.horizon, 0), 100).toFixed(2)}%`
const gradient = () => `linear-gradient(90deg, ${props.lane.shade.map((level) => shade(level)).join(', ')})`
</script>

<template>
  <span class="relative block py-1.5">
    <span
      v-if="!lane.day"
      class="block h-[calc(100%-0.7rem)] rounded-md"
      :style="{ background: gradient() }"
    />
    <span
      v-if="lane.odds !== null || lane.assumed"
      class="absolute top-1 flex h-[calc(100%-1.1rem)] items-center"
      :style="{ left: `min(${x(lane.start)}, 100% - 5.5rem)` }"
    >
      <span
        v-if="lane.odds !== null"
        class="lane-block"
        :class="lane.risky ? (lane.thin ? 'lane-thin' : 'lane-thick') : ''"
        >{{ Math.round(100 * lane.odds) }}</span
      >
      <span class="lane-does">{{ lane.does }}{{ lane.assumed ? '?' : '' }}</span>
    </span>
    <span v-if="lane.span" class="absolute inset-x-0 bottom-0.5 h-2" aria-hidden="true">
      <span
        class="absolute top-[3px] h-[2px] bg-mist"
        :style="{ left: x(lane.span.q10), right: `calc(100% - ${x(lane.span.q90)})` }"
      />
      <span
        class="absolute top-[2px] h-1 bg-bone"
        :style="{ left: x(lane.span.q25), right: `calc(100% - ${x(lane.span.q75)})` }"
      />
    </span>
  </span>
</template>

<style scoped>
.lane-block {
  display: flex;
  min-width: 1.9rem;
  height: 100%;
  align-items: center;
  justify-content: center;
  border-radius: 0.4rem;
  border: 2px solid var(--color-ink);
  background: var(--color-lid);
  padding: 0 0.3rem;
  font-weight: 700;
  color: var(--color-ink);
}
.lane-thick {
  border-color: var(--color-iron);
  color: var(--color-iron);
  background: repeating-linear-gradient(45deg, var(--color-lid) 0 5px, var(--color-grain) 5px 7px);
}
.lane-thin {
  border-color: var(--color-iron);
  color: var(--color-iron);
  background: radial-gradient(circle, var(--color-specks) 1.3px, var(--color-lid) 1.5px) 0 0 / 7px 7px;
}
.lane-does {
  margin-left: 0.4rem;
  border-radius: 0.3rem;
  background: rgb(16 25 28 / 62%);
  padding: 0 0.35rem;
  font-weight: 700;
  color: var(--color-bone);
}
</style>
