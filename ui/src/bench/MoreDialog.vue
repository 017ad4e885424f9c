<script setup lang="ts">
/** What is rarer than a stage: steps done otherwise or left out, a layer tried, folding, notes, hands off. */
import { computed, ref, watch } from 'vue'
import type { PourView, Schemas } from '../api/client'
import { usePhotos } from '../api/writes'
import BenchDialog from './BenchDialog.vue'
import { REMARKS, STOOD } from './events'
import type { Tap } from './usePour'

type What = Schemas['Remarked']['what']
const props = defineProps<{ open: boolean; view: PourView; portion: string | null; practice: boolean }>()
const emit = defineEmits<{ close: []; tap: [what: Tap]; log: []; refresh: [] }>()

const bench = computed(() => props.view.bench)
const lane = computed(() => bench.value.lanes.find((l) => l.portion === props.portion))
const others = computed(() =>
  bench.value.lanes.filter((l) => l.portion !== props.portion && l.where === 'pot'),
)
const into = ref<string[]>([])
const words = ref('')
const name = ref('')
const message = ref('')
watch(
  () => props.open,
  () => {
    into.value = []
    words.value = message.value = ''
    name.value = props.portion ?? ''
  },
)
const tap = (what: Tap) => {
  emit('tap', what)
  emit('close')
}
const remark = (what: What, said = '') => tap({ kind: 'remark', portion: props.portion, what, says: said })
const toggle = (n: string) =>
  (into.value = into.value.includes(n) ? into.value.filter((x) => x !== n) : [...into.value, n])
function rename() {
  const to = name.value.trim()
  if (!props.portion || !to || to === props.portion) message.value = 'Another name is wanted.'
  else tap({ kind: 'rename', portion: props.portion, to })
}
const photos = usePhotos(
  () => props.view.id,
  () => emit('refresh'),
)
async function picture(change: Event) {
  if (await photos.pick(change, 0, props.portion ?? '')) emit('close')
}
</script>

<template>
  <BenchDialog
    :open="open"
    wide
    :title="portion ? `More of ${portion}` : 'More of all of it'"
    leave="Back to the bench"
    @close="emit('close')"
  >
    <div class="flex flex-col gap-4">
      <section v-if="bench.coming.length" aria-label="Steps to come">
        <h3 class="pb-1.5 font-bold text-mist">Steps to come</h3>
        <div
          v-for="s in bench.coming"
          :key="s.key"
          class="grid grid-cols-[minmax(0,1fr)_repeat(3,7rem)] items-center gap-2 py-1 max-sm:grid-cols-3"
        >
          <span class="truncate text-lg font-bold max-sm:col-span-3" :title="s.label">{{ s.label }}</span>
          <button type="button" class="bench-key" @click="tap({ kind: 'step', step: s.key, changed: false })">
            done
          </button>
          <button type="button" class="bench-key" @click="tap({ kind: 'step', step: s.key, changed: true })">
            otherwise
          </button>
          <button type="button" class="bench-key" @click="tap({ kind: 'skip', step: s.key })">
            left out
          </button>
        </div>
      </section>

      <button v-if="view.pouring !== null" type="button" class="bench-key" @click="tap({ kind: 'ended' })">
        The mould is full: end the pour
      </button>

      <section v-if="bench.below" aria-label="Layer test">
        <h3 class="pb-1.5 font-bold text-mist">{{ bench.below }}, tilted and touched</h3>
        <div class="grid grid-cols-3 gap-2">
          <button
            v-for="(said, how) in STOOD"
            :key="how"
            type="button"
            class="bench-key"
            @click="tap({ kind: 'layer', portion: bench.below, how })"
          >
            {{ said }}
          </button>
        </div>
      </section>

      <section v-if="portion && lane?.where === 'pot' && others.length" aria-label="Fold">
        <h3 class="pb-1.5 font-bold text-mist">{{ portion }} folded into</h3>
        <div class="flex flex-wrap gap-2">
          <button
            v-for="o in others"
            :key="o.portion"
            type="button"
            class="bench-key px-4"
            :class="into.includes(o.portion) ? 'bg-bone! text-ink!' : ''"
            :aria-pressed="into.includes(o.portion)"
            @click="toggle(o.portion)"
          >
            {{ o.portion }}
          </button>
          <button
            type="button"
            class="bench-key px-5"
            :disabled="!into.length"
            @click="tap({ kind: 'fold', portion, into })"
          >
            folded
          </button>
        </div>
      </section>

      <section aria-label="Notes">
        <h3 class="pb-1.5 font-bold text-mist">Noticed{{ portion ? ` in ${portion}` : '' }}</h3>
        <div class="grid grid-cols-4 gap-2 max-sm:grid-cols-2">
          <button
            v-for="(said, what) in REMARKS"
            :key="what"
            type="button"
            class="bench-key"
            @click="remark(what)"
          >
            {{ said }}
          </button>
        </div>
        <form
          class="grid grid-cols-[1fr_auto] gap-2 pt-2"
          @submit.prevent="words.trim() && remark('words', words.trim())"
        >
          <input
            v-model="words"
            class="min-h-16 min-w-0 rounded-lg bg-slate px-3"
            maxlength="300"
            placeholder="or in words"
            aria-label="A note in words"
          />
          <button type="submit" class="bench-key px-5" :disabled="!words.trim()">Note it</button>
        </form>
      </section>

      <section class="grid grid-cols-4 gap-2 max-sm:grid-cols-2" aria-label="This pour">
        <button
          v-if="bench.batch"
          type="button"
          class="bench-key"
          @click="tap({ kind: 'combined', batch: bench.batch })"
        >
          {{ bench.batch }}: lye met fats
        </button>
        <button type="button" class="bench-key" @click="tap({ kind: 'spare', portion })">
          {{ portion ?? 'the rest' }} to a spare mould
        </button>
        <button v-if="bench.may_hold" type="button" class="bench-key" @click="tap({ kind: 'in-turn' })">
          scent as each is poured
        </button>
        <button v-if="!bench.paused" type="button" class="bench-key" @click="tap({ kind: 'pause' })">
          hands off, back later
        </button>
        <label v-if="!practice" class="bench-key cursor-pointer focus-within:outline-3">
          picture
          <input type="file" accept="image/*" capture="environment" class="sr-only" @change="picture" />
        </label>
        <button type="button" class="bench-key" @click="emit('log')">all that was logged</button>
      </section>

      <form v-if="portion" class="grid grid-cols-[1fr_auto] gap-2" @submit.prevent="rename">
        <input
          v-model="name"
          class="min-h-16 min-w-0 rounded-lg bg-slate px-3"
          maxlength="80"
          :aria-label="`Another name for ${portion}`"
        />
        <button type="submit" class="bench-key px-5">call it so</button>
      </form>
      <p v-if="message" class="text-blush" role="alert">{{ message }}</p>
      <p v-else-if="photos.trouble.value" class="text-blush" role="alert">
        {{ photos.trouble.value }} The picture was not kept: take it again.
      </p>
    </div>
  </BenchDialog>
</template>
