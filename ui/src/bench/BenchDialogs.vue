<script setup lang="ts">
/** What the bench asks, one thing at a time; `ask` names which. */
import { watch } from 'vue'
import { type PourEvent, type PourView } from '../api/client'
import { clock } from '../support/format'
import BenchDialog from './BenchDialog.vue'
import type { Ask, Tool } from './BenchKeys.vue'
import Doubts from './Doubts.vue'
import FlagDialog from './FlagDialog.vue'
import HowLong from './HowLong.vue'
import Logged from './Logged.vue'
import MoreDialog from './MoreDialog.vue'
import ScentDialog from './ScentDialog.vue'
import TemperatureDialog from './TemperatureDialog.vue'
import type { Purpose, Tap } from './usePour'

const props = defineProps<{
  view: PourView
  portion: string | null
  where: string
  practice: boolean
  /** What was noted of what goes in with the scent. */
  noted: readonly string[]
  celsius: number
}>()
const ask = defineModel<Ask | null>({ required: true })
const emit = defineEmits<{
  tap: [what: Tap]
  worked: [tool: Tool, seconds: number, purpose: Purpose]
  start: [tool: Tool]
  log: [event: PourEvent]
  keep: [target: string]
  move: [target: string, to: number]
  takeBack: [target: string]
  refresh: []
}>()
const close = () => (ask.value = null)
function tap(what: Tap) {
  close()
  emit('tap', what)
}
watch(
  () => props.view.doubts.length,
  (open) => {
    if (!open && ask.value === 'doubts') close()
  },
)
</script>

<template>
  <HowLong
    :tool="ask === 'stick' || ask === 'hand' ? ask : null"
    :where="where"
    @close="close"
    @worked="
      (tool, seconds, purpose) => {
        close()
        emit('worked', tool, seconds, purpose)
      }
    "
    @start="
      (tool) => {
        close()
        emit('start', tool)
      }
    "
  />
  <ScentDialog
    :open="ask === 'scent'"
    :where="where"
    :portion="portion"
    :waits="view.bench.scents"
    :planned="(name) => (view.bench.lanes.find((l) => l.portion === name) ?? view.bench).grams"
    :noted="noted"
    @close="close"
    @scent="(name, grams) => tap({ kind: 'scent', portion: name, grams, share: null })"
    @part="(name, share) => tap({ kind: 'scent', portion: name, grams: null, share })"
    @unscented="(name) => tap({ kind: 'unscented', portion: name })"
  />
  <TemperatureDialog
    :open="ask === 'celsius'"
    :celsius="celsius"
    @close="close"
    @read="(read) => tap({ kind: 'temperature', celsius: read })"
  />
  <FlagDialog
    :open="ask === 'wrong'"
    :where="where"
    @close="close"
    @flag="(flag) => tap({ kind: 'flag', portion, flag })"
  />
  <MoreDialog
    :open="ask === 'more'"
    :view="view"
    :portion="portion"
    :practice="practice"
    @close="close"
    @tap="tap"
    @log="ask = 'log'"
    @refresh="emit('refresh')"
  />
  <BenchDialog
    :open="ask === 'why'"
    wide
    :title="view.advice.headline"
    leave="Back to the bench"
    @close="close"
  >
    <p v-if="view.advice.caution" class="pb-2 text-lg font-semibold text-blush">
      {{ view.advice.caution }}
    </p>
    <p v-if="view.advice.warning" class="pb-2 text-lg">{{ view.advice.warning }}</p>
    <p v-if="view.advice.amount" class="fig pb-2 text-lg font-bold text-honey">{{ view.advice.amount }}</p>
    <p class="pb-2 text-lg text-mist">{{ view.advice.detail }}</p>
    <p v-if="view.look_at !== null" class="text-mist">
      The next look tells most at {{ clock(view.look_at)
      }}<template v-if="view.recipe.design.portions.length > 1"> in {{ view.look_into }}</template
      >.
    </p>
  </BenchDialog>
  <BenchDialog
    :open="ask === 'log'"
    wide
    title="All that was logged"
    leave="Back to the bench"
    @close="close"
  >
    <Logged :view="view" @log="(event) => emit('log', event)" @take-back="(id) => emit('takeBack', id)" />
  </BenchDialog>
  <BenchDialog
    :open="ask === 'doubts' && view.doubts.length > 0"
    wide
    title="To be answered"
    leave="Later"
    @close="close"
  >
    <Doubts
      :doubts="view.doubts"
      @keep="(target) => emit('keep', target)"
      @move="(target, to) => emit('move', target, to)"
      @take-back="(target) => emit('takeBack', target)"
    />
  </BenchDialog>
</template>
