<script setup lang="ts">
/** Recipes as they were written down: pasted, shown as read, and what was not understood settled beside it. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, take, type Schemas } from '../api/client'
import { useShelf } from '../api/queries'
import { useWrite } from '../api/writes'
import MakeHere from '../ledger/MakeHere.vue'
import PickList from '../fields/PickList.vue'
import { percent } from '../support/format'
import { weight } from '../support/quantity'

const props = defineProps<{ open: boolean }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const { data: shelf } = useShelf()
type Line = Schemas['PastedLine'] & { out: boolean; making: string | null; wrong: string }
const text = ref('')
const recipes = ref<{ name: string; wrong: string; lines: Line[] }[]>([])
const choices = ref<Schemas['Named'][]>([])

const items = computed(() => {
  const on = shelf.value
  if (!on) return []
  const of = (kind: string, all: readonly { id: string; name: string }[]) =>
    all.map((x) => ({ id: `${kind}:${x.id}`, name: x.name, hint: kind, also: on.also[x.id] }))
  return [
    ...choices.value,
    ...of('fat', on.fats),
    ...of('liquid', on.liquids),
    ...of('additive', on.additives),
    ...of('fragrance', on.fragrances),
  ]
})
const lines = computed(() => recipes.value.flatMap((r) => r.lines))
const unsettled = computed(() => lines.value.filter((l) => !l.out && (!l.item || (!l.grams && !l.share))))
const withLye = (of: Line[]) => of.some((l) => !l.out && l.item.startsWith('alkali:'))

const reading = useWrite(
  (asked: string) => take(api.POST('/api/recipes/pasted', { body: { text: asked } })),
  {
    done: (told, asked) => {
      if (asked !== text.value) return
      // What was settled of a line stands for as long as the line does.
      const settled = new Map(lines.value.map((l) => [l.text, l]))
      choices.value = told.choices
      recipes.value = told.recipes.map((r) => ({
        name: r.name,
        wrong: '',
        lines: r.lines.map((l) => {
          const was = settled.get(l.text)
          const item = l.item || (was?.item ?? '')
          return {
            ...l,
            item,
            message: item ? '' : l.message,
            out: was?.out ?? false,
            making: null,
            wrong: '',
          }
        }),
      }))
    },
  },
)
const read = useDebounceFn(() => reading.run(text.value), 300)
const amount = (l: Line) => (l.grams ? weight(l.grams) : l.share ? `${percent(l.share)} %` : '—')
/** What one line is, every open line of that name is too. */
function settle(line: Line, item: string) {
  line.making = null
  for (const l of lines.value.filter((x) => x === line || (!x.item && x.name === line.name)))
    Object.assign(l, { item, message: l.grams || l.share ? '' : l.message, wrong: '' })
}
function join(i: number) {
  const [of] = recipes.value.splice(i, 1)
  if (of) recipes.value[i - 1]?.lines.push(...of.lines)
}
const making = useWrite(
  (sent: { name: string; lines: Line[] }[]) =>
    take(
      api.POST('/api/recipes/pasted/made', {
        body: {
          recipes: sent.map((r) => ({
            name: r.name,
            rows: r.lines.map(({ item, grams, share }) => ({
              item,
              grams: grams ?? null,
              share: share ?? null,
            })),
          })),
        },
      }),
    ),
  {
    touches: ['recipes'],
    done: (made) => {
      emit('close')
      if (made.ids.length === 1) return router.push(`/recipes/${made.ids[0]}`)
      recipes.value = []
    },
    once: true,
  },
)
const unplaced = ref('')
const wrong = computed(() => reading.trouble.value || unplaced.value)
async function make() {
  unplaced.value = ''
  for (const r of recipes.value) for (const l of [r, ...r.lines]) l.wrong = ''
  const sent = recipes.value.map((of) => ({ of, name: of.name, lines: of.lines.filter((l) => !l.out) }))
  if (await making.run(sent)) return
  for (const { pointer, message } of making.faults.value) {
    const [, , n = '', , row = ''] = pointer.split('/')
    const of = pointer ? sent[Number(n)] : undefined
    const at = (row && of?.lines[Number(row)]) || of?.of
    if (at) at.wrong = message
    else unplaced.value = message
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
        <DialogTitle class="text-2xl font-bold">Paste recipes</DialogTitle>
        <div class="grid gap-5 md:grid-cols-[minmax(0,1fr)_minmax(0,1.4fr)]">
          <label class="flex flex-col gap-1">
            <span class="note"
              >one thing a line, in any unit: “olive oil 16 oz”, “lye; 128 g”, “superfat 5 %”. An empty line
              and a name begin the next recipe</span
            >
            <textarea
              v-model="text"
              rows="12"
              class="fig rounded-lg border border-rule bg-chalk p-2 md:sticky md:top-0"
              aria-label="The recipe as it is written"
              @input="read"
            />
          </label>
          <div>
            <section v-for="(r, n) in recipes" :key="n" class="pb-4">
              <p class="flex flex-wrap items-baseline gap-x-3">
                <input
                  v-model="r.name"
                  class="field w-60 font-bold"
                  maxlength="80"
                  placeholder="New recipe"
                  aria-label="name of the recipe"
                />
                <button v-if="n" type="button" class="text-sm underline" @click="join(n)">
                  part of the one above
                </button>
              </p>
              <ol aria-label="As it was read">
                <li
                  v-for="(l, i) in r.lines"
                  :key="i"
                  class="row grid grid-cols-[minmax(0,1fr)_6rem_auto] items-center gap-x-3 py-1"
                  :class="l.out ? 'opacity-50' : ''"
                >
                  <PickList
                    :label="l.name || 'what is it?'"
                    :options="items"
                    :chosen="l.item || null"
                    makes="oil, fragrance or colour"
                    @pick="(item) => settle(l, item)"
                    @make="(name) => (l.making = name)"
                  />
                  <b class="fig text-right whitespace-nowrap">{{ amount(l) }}</b>
                  <label class="flex items-center gap-1 text-sm">
                    <input v-model="l.out" type="checkbox" class="size-4 accent-ink" /> leave out
                  </label>
                  <MakeHere
                    v-if="l.making !== null"
                    class="col-span-full"
                    :name="l.making"
                    @made="(what, id) => settle(l, `${what === 'scent' ? 'fragrance' : what}:${id}`)"
                    @cancel="l.making = null"
                  />
                  <p v-else-if="l.message && !l.out" class="message col-span-full" role="alert">
                    “{{ l.text }}”: {{ l.message }}
                    <button
                      v-if="l.name && !l.item"
                      type="button"
                      class="font-normal underline"
                      @click="l.making = l.name"
                    >
                      New on the shelf
                    </button>
                  </p>
                  <p v-if="l.wrong && !l.out" class="message col-span-full" role="alert">{{ l.wrong }}</p>
                </li>
              </ol>
              <p v-if="r.wrong" class="message" role="alert">{{ r.wrong }}</p>
              <p class="note pt-1">
                {{
                  withLye(r.lines)
                    ? 'With its lye: the superfat is what these weights give. Lye-heavy weights are refused.'
                    : 'No lye among it: what is not said of lye, water and superfat is as usual. Milks and teas are put in afterwards.'
                }}
              </p>
            </section>
            <p v-if="!recipes.length" class="text-quiet">
              What you paste is shown here, line by line, as it was read.
            </p>
          </div>
        </div>
        <p v-if="wrong" class="message text-base!" role="alert">{{ wrong }}</p>
        <div
          class="sticky -bottom-5 -mx-5 -mb-5 flex flex-wrap items-end gap-3 border-t border-rule bg-paper px-5 py-3"
        >
          <button
            type="button"
            class="key key-main ml-auto min-h-11!"
            :disabled="!lines.length || unsettled.length > 0"
            @click="make"
          >
            {{
              unsettled.length
                ? `${unsettled.length} to settle`
                : recipes.length > 1
                  ? `Make ${recipes.length} recipes`
                  : 'Make the recipe'
            }}
          </button>
          <button type="button" class="key min-h-11!" @click="emit('close')">Cancel</button>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
