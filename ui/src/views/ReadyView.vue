<script setup lang="ts">
/** Before the lye meets the fats: everything in the order of work to be ticked, and jug and pot on their way. */
import { computed, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { RouterLink, useRouter } from 'vue-router'
import { api, Refused, take, type Schemas } from '../api/client'
import { useRefresh } from '../api/queries'
import BenchDialog from '../bench/BenchDialog.vue'
import FirstAid from '../bench/FirstAid.vue'
import { useCues } from '../bench/useCues'
import { onlyBench } from '../support/me'
import JugAndPot from '../ready/JugAndPot.vue'
import LastTime from '../ready/LastTime.vue'
import ReweighCard from '../ready/ReweighCard.vue'
import TickKey from '../ready/TickKey.vue'
import { useReady } from '../ready/useReady'

type Item = Schemas['ReadyItem']
const props = defineProps<{ id: string }>()
const router = useRouter()
const refresh = useRefresh()
const client = useQueryClient()
const ready = useReady(props.id)
const { view, message, faults, minute, act } = ready

const open = computed(() => view.value?.parts.flatMap((p) => p.items).filter((i) => !i.ticked).length ?? 0)
/** A tick says what was read here: should the recipe be another by then, the server knows which was weighed. */
const tap = (i: Item) =>
  act({ kind: 'tick', key: i.key, on: !i.ticked, grams: i.reading, message: i.message, line: i.line })
const cues = useCues(
  computed(() => view.value?.cues ?? []),
  minute,
  computed(() => view.value !== null),
)
const starting = ref(false)
/** Lye lies weighed for another weight: asked before the clock starts. */
const unsure = ref<string[]>([])
async function start(sure = false) {
  starting.value = true
  faults.value = []
  try {
    const pour = await take(api.POST('/api/pours', { body: { recipe_id: props.id, sure } }))
    void client.invalidateQueries({ queryKey: ['recipe', props.id] })
    await refresh('pours', 'recipes')
    await router.push(`/pours/${pour.id}`)
  } catch (error) {
    unsure.value =
      error instanceof Refused && error.problem.sure ? error.problem.errors.map((e) => e.message) : []
    if (!unsure.value.length) ready.failed(error)
  } finally {
    starting.value = false
  }
}
</script>

<template>
  <div class="bench min-h-screen bg-slate text-bone">
    <div class="mx-auto max-w-7xl px-5 pt-2 pb-4 max-sm:px-3">
      <div class="flex items-center gap-4 text-sm text-mist">
        <RouterLink :to="onlyBench() ? '/' : `/recipes/${id}`" class="whitespace-nowrap underline">{{
          onlyBench() ? 'Back' : 'Back to the recipe'
        }}</RouterLink>
        <h1 class="min-w-0 truncate font-semibold text-bone">{{ view?.name ?? 'Ready check' }}</h1>
        <span v-if="cues.message.value" class="text-base font-bold text-honey" role="status">{{
          cues.message.value
        }}</span>
        <span class="ml-auto"><FirstAid v-if="view" :aid="view.aid" /></span>
        <button type="button" class="min-h-6 whitespace-nowrap underline" @click="cues.toggle">
          {{ cues.on.value ? 'sound and buzz on' : 'silent' }}
        </button>
      </div>
      <p v-if="message" class="py-2 font-semibold text-blush" role="alert">{{ message }}</p>
      <p
        v-for="f in faults.filter((x) => x.pointer !== '/jug' && x.pointer !== '/pot')"
        :key="f.message"
        class="py-2 font-semibold text-blush"
        role="alert"
      >
        {{ f.message }}
      </p>
      <p v-if="!view && !message && !faults.length" class="py-10 text-lg" role="status">
        Opening the ready check …
      </p>
      <div
        v-if="view"
        class="grid items-start gap-x-8 gap-y-4 pt-2 md:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]"
      >
        <div class="max-md:order-last">
          <section v-for="part in view.parts" :key="part.title" class="border-t border-slab py-2">
            <h2 class="text-lg font-bold">{{ part.title }}</h2>
            <p v-if="part.does" class="text-sm text-mist">{{ part.does }}</p>
            <p
              v-for="c in part.cautions"
              :key="c.message"
              class="font-semibold"
              :class="c.danger ? 'text-blush' : ''"
            >
              {{ c.message }}
            </p>
            <div class="grid gap-1.5 pt-1.5 lg:grid-cols-2">
              <TickKey v-for="item in part.items" :key="item.key" :item="item" @tap="tap(item)" />
            </div>
          </section>
        </div>

        <div class="flex flex-col gap-3 md:sticky md:top-2">
          <ReweighCard
            v-if="view.reweigh.length"
            :reweigh="view.reweigh"
            @put-away="(key) => act({ kind: 'tick', key, on: false, grams: null, message: '', line: '' })"
            @follow="ready.follow"
          />
          <button
            v-if="!view.running"
            type="button"
            class="bench-main min-h-20! text-2xl!"
            :disabled="starting"
            @click="start()"
          >
            Lye meets fats: start the clock
          </button>
          <RouterLink v-else :to="`/pours/${view.running}`" class="bench-main min-h-20! text-2xl!">
            To the running pour
          </RouterLink>
          <p class="text-mist" role="status">
            {{ open ? `${open} to tick; nothing is forced.` : 'All stands ready.' }} Local rules and those who
            know your lye come first.
          </p>

          <JugAndPot :view="view" :ready="ready" />

          <LastTime :view="view" @heed="(note, how) => act({ kind: 'note', note, how })" />
        </div>
      </div>
    </div>
    <BenchDialog
      :open="unsure.length > 0"
      wide
      title="Is this the right lye?"
      leave="Not yet"
      @close="unsure = []"
    >
      <p v-for="u in unsure" :key="u" class="pb-2 text-lg leading-snug">{{ u }}</p>
      <button type="button" class="bench-key w-full" :disabled="starting" @click="start(true)">
        The jug was made anew: start the clock
      </button>
    </BenchDialog>
  </div>
</template>
