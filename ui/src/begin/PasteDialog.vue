<script setup lang="ts">
/** A recipe as it was written down: pasted, shown as read, and what was not understood settled beside it. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, Refused, take, type Schemas } from '../api/client'
import { useRefresh, useShelf } from '../api/queries'
import PickList from '../fields/PickList.vue'
import { percent } from '../support/format'
import { weight } from '../support/quantity'

const props = defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const refresh = useRefresh()
const { data: shelf } = useShelf()
const text = ref('')
const name = ref('')
const lines = ref<(Schemas['PastedLine'] & { out: boolean })[]>([])
const wrong = ref('')

const items = computed(() => {
  const on = shelf.value
  if (!on) return []
  const of = (kind: string, all: readonly { id: string; name: string }[]) =>
    all.map((x) => ({ id: `${kind}:${x.id}`, name: x.name, hint: kind, also: on.also[x.id] }))
  return [
    { id: 'alkali:naoh', name: 'Sodium hydroxide', hint: 'lye' },
    { id: 'alkali:koh', name: 'Potassium hydroxide', hint: 'lye' },
    { id: 'water', name: 'Water', hint: 'liquid' },
    ...of('fat', on.fats),
    ...of('liquid', on.liquids),
    ...of('additive', on.additives),
    ...of('fragrance', on.fragrances),
  ]
})
const lye = computed(() => lines.value.some((l) => !l.out && l.item.startsWith('alkali:')))
const unsettled = computed(() => lines.value.filter((l) => !l.out && (!l.item || (!l.grams && !l.share))))

const read = useDebounceFn(async () => {
  wrong.value = ''
  const told = await take(api.POST('/api/recipes/pasted', { body: { text: text.value } }))
  lines.value = told.lines.map((l) => ({ ...l, out: false }))
}, 300)
const amount = (l: Schemas['PastedLine']) =>
  l.grams ? weight(l.grams) : l.share ? `${percent(l.share)} %` : '—'
function settle(i: number, item: string) {
  const line = lines.value[i]
  if (line) Object.assign(line, { item, message: line.grams || line.share ? '' : line.message })
}
async function make() {
  wrong.value = ''
  try {
    const rows = lines.value
      .filter((l) => !l.out)
      .map(({ item, grams, share }) => ({ item, grams: grams ?? null, share: share ?? null }))
    const made = await take(api.POST('/api/recipes/pasted/made', { body: { name: name.value, rows } }))
    await refresh('recipes')
    emit('close')
    await router.push(`/recipes/${made.id}`)
  } catch (problem) {
    if (!(problem instanceof Refused)) throw problem
    wrong.value = problem.problem.errors[0]?.message ?? problem.message
  }
}
</script>

<template>
  <Dialog :open="props.open" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-slate/50" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel
        class="flex max-h-full w-full max-w-5xl flex-col gap-3 overflow-y-auto rounded-xl bg-paper p-5"
      >
        <DialogTitle class="text-2xl font-bold">Paste a recipe</DialogTitle>
        <div class="grid gap-5 md:grid-cols-[minmax(0,1fr)_minmax(0,1.4fr)]">
          <label class="flex flex-col gap-1">
            <span class="note"
              >one thing a line, in any unit: “olive oil 16 oz”, “lye; 128 g”, “castor 5 %”</span
            >
            <textarea
              v-model="text"
              rows="12"
              class="fig rounded-lg border border-rule bg-chalk p-2"
              aria-label="The recipe as it is written"
              @input="read"
            />
          </label>
          <div>
            <ol aria-label="As it was read">
              <li
                v-for="(l, i) in lines"
                :key="i"
                class="row grid grid-cols-[minmax(0,1fr)_6rem_auto] items-center gap-x-3 py-1"
                :class="l.out ? 'opacity-50' : ''"
              >
                <PickList
                  :label="l.name || 'what is it?'"
                  :options="items"
                  :chosen="l.item || null"
                  @pick="(item) => settle(i, item)"
                />
                <b class="fig text-right whitespace-nowrap">{{ amount(l) }}</b>
                <label class="flex items-center gap-1 text-sm">
                  <input v-model="l.out" type="checkbox" class="size-4 accent-ink" /> leave out
                </label>
                <span v-if="l.message && !l.out" class="message col-span-full" role="alert"
                  >“{{ l.text }}”: {{ l.message }}</span
                >
              </li>
            </ol>
            <p v-if="lines.length" class="note pt-2">
              {{
                lye
                  ? 'With its lye: the superfat is what these weights give. Lye-heavy weights are refused.'
                  : 'No lye among it: lye, water and superfat are the usual ones, and milks and teas are put in afterwards.'
              }}
            </p>
            <p v-else class="text-quiet">What you paste is shown here, line by line, as it was read.</p>
          </div>
        </div>
        <p v-if="wrong" class="message text-base!" role="alert">{{ wrong }}</p>
        <div class="flex flex-wrap items-end gap-3">
          <label class="flex flex-col">
            <span class="note">name</span>
            <input v-model="name" class="field w-60" maxlength="80" placeholder="New recipe" />
          </label>
          <button
            type="button"
            class="key key-main ml-auto min-h-11!"
            :disabled="!lines.length || unsettled.length > 0"
            @click="make"
          >
            {{ unsettled.length ? `${unsettled.length} to settle` : 'Make the recipe' }}
          </button>
          <button type="button" class="key min-h-11!" @click="emit('close')">Cancel</button>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
