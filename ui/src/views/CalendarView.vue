<script setup lang="ts">
/** Batches by the day: planned ones are moved by hand; everything before and after them follows. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, orSoon, take, type Schemas } from '../api/client'
import { useWrite } from '../api/writes'
import PickList from '../fields/PickList.vue'
import { dayWord } from '../support/when'

type Day = Schemas['Day']
type Entry = Schemas['Entry']
/** What is in hand: a pour that is planned (`nth`, `was`), or one on no day yet. */
interface Held {
  recipe_id: string
  recipe: string
  nth: number | null
  was: string
}
const client = useQueryClient()
const iso = (of: Date) => of.toLocaleDateString('sv')
const noon = (day: string) => new Date(`${day}T12:00:00`)
const now = new Date()
/** The first day of a week where this browser is. */
function weekBegins(): number {
  const locale = new Intl.Locale(navigator.language) as Intl.Locale & {
    weekInfo?: { firstDay: number }
    getWeekInfo?: () => { firstDay: number }
  }
  return (locale.getWeekInfo?.() ?? locale.weekInfo ?? { firstDay: 1 }).firstDay % 7
}
const month = ref(new Date(now.getFullYear(), now.getMonth(), 1, 12))
const turn = (by: number) =>
  (month.value = new Date(month.value.getFullYear(), month.value.getMonth() + by, 1, 12))
const first = computed(() => {
  const at = new Date(month.value)
  at.setDate(1 - ((at.getDay() - weekBegins() + 7) % 7))
  return iso(at)
})
const { data, error, isPending } = useQuery({
  queryKey: computed(() => ['calendar', first.value]),
  queryFn: () => take(api.GET('/api/calendar', { params: { query: { first: first.value, many: 42 } } })),
  placeholderData: (before) => before,
  refetchInterval: orSoon(300_000),
})
const { data: names } = useQuery({
  queryKey: ['recipes', 'names'],
  queryFn: () => take(api.GET('/api/recipes/names')),
})
const recipes = computed(() => (names.value?.names ?? []).map((r) => ({ id: r.id, name: r.name, hint: '' })))
const weekdays = computed(() =>
  (data.value?.days.slice(0, 7) ?? []).map((d) =>
    noon(d.day).toLocaleDateString(navigator.language, { weekday: 'short' }),
  ),
)
const title = computed(() =>
  month.value.toLocaleDateString(navigator.language, { month: 'long', year: 'numeric' }),
)
const outside = (d: Day) => noon(d.day).getMonth() !== month.value.getMonth()
const past = (d: Day) => d.day < (data.value?.today ?? '')

const held = ref<Held | null>(null)
const over = ref('')
const holds = (e: { recipe_id: string; nth: number | null }) =>
  held.value?.recipe_id === e.recipe_id && held.value.nth === e.nth
function pick(of: Held) {
  held.value = holds(of) ? null : of
}
const ofEntry = (e: Entry, day: string): Held => ({
  recipe_id: e.recipe_id,
  recipe: e.recipe,
  nth: e.nth ?? null,
  was: day,
})
const { run: move, trouble: refused } = useWrite(
  (of: Held, day: string | null) =>
    take(
      api.PUT('/api/recipes/{recipe_id}/days', {
        params: { path: { recipe_id: of.recipe_id } },
        body: { nth: of.nth, was: of.was, day },
      }),
    ),
  { touches: ['recipes', 'stock', 'recipe'] },
)
async function put(day: string | null) {
  const of = held.value
  held.value = null
  over.value = ''
  if (!of || day === of.was) return
  await move(of, day)
  await client.invalidateQueries({ queryKey: ['calendar'] })
}
function begin(event: DragEvent, of: Held) {
  held.value = of
  event.dataTransfer?.setData('text/plain', of.recipe)
}
const placeOf = (e: Entry) =>
  e.pour ? `/pours/${e.pour}${e.what === 'build' ? '' : '/rest'}` : `/recipes/${e.recipe_id}`
const lower = (words: string) => words.charAt(0).toLowerCase() + words.slice(1)
const work = (minutes: number) =>
  minutes >= 60
    ? `${Math.floor(minutes / 60)} h ${String(Math.round(minutes % 60)).padStart(2, '0')}`
    : `${Math.round(minutes)} min`
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
      <h1 class="text-3xl font-bold">{{ title }}</h1>
      <span class="flex gap-1">
        <button type="button" class="key" aria-label="The month before" @click="turn(-1)">‹</button>
        <button type="button" class="key" @click="month = new Date(now.getFullYear(), now.getMonth(), 1, 12)">
          Today
        </button>
        <button type="button" class="key" aria-label="The month after" @click="turn(1)">›</button>
      </span>
      <RouterLink to="/rest" class="underline">What rests</RouterLink>
      <a href="/api/rest.ics" class="ml-auto text-sm underline" download>Touches as a calendar file</a>
    </div>
    <p v-if="error" class="message pt-3" role="alert">{{ error.message }}</p>
    <p v-if="refused" class="message pt-3" role="alert">{{ refused }}</p>
    <p v-if="isPending" class="py-6" role="status">Looking what is on …</p>
    <template v-else-if="data">
      <section class="flex flex-wrap items-center gap-2 pt-3" aria-label="To be planned" data-test="undated">
        <button
          v-for="u in data.undated"
          :key="`${u.recipe_id} ${u.nth}`"
          type="button"
          class="key"
          :class="holds({ recipe_id: u.recipe_id, nth: u.nth ?? null }) ? 'key-main' : ''"
          draggable="true"
          :aria-pressed="holds({ recipe_id: u.recipe_id, nth: u.nth ?? null })"
          @dragstart="
            begin($event, { recipe_id: u.recipe_id, recipe: u.recipe, nth: u.nth ?? null, was: u.was })
          "
          @click="pick({ recipe_id: u.recipe_id, recipe: u.recipe, nth: u.nth ?? null, was: u.was })"
        >
          <b>{{ u.recipe }}</b> <span class="note">{{ u.message }}</span>
        </button>
        <PickList
          label="Plan a pour of"
          :options="recipes"
          :chosen="null"
          @pick="
            (id) =>
              (held = {
                recipe_id: id,
                recipe: recipes.find((r) => r.id === id)?.name ?? '',
                nth: null,
                was: '',
              })
          "
        />
        <p v-if="held" class="w-full font-semibold" role="status">
          {{ held.recipe }}: tap the day it is poured on.
          <button v-if="held.nth !== null" type="button" class="px-2 underline" @click="put(null)">
            Take it off the calendar
          </button>
          <button type="button" class="px-2 underline" @click="held = null">Leave it</button>
        </p>
      </section>
      <div class="note mt-3 grid grid-cols-7 border-b-3 border-ink max-md:hidden" aria-hidden="true">
        <span v-for="w in weekdays" :key="w" class="px-1.5">{{ w }}</span>
      </div>
      <ol class="grid md:grid-cols-7" data-test="calendar">
        <li
          v-for="d in data.days"
          :key="d.day"
          class="relative min-w-0 border-rule px-1.5 pt-0.5 pb-2 md:min-h-28 md:border-r md:border-b"
          :class="[
            outside(d) ? 'bg-chalk text-quiet max-md:hidden' : '',
            d.entries.length || held ? 'max-md:border-b' : 'max-md:hidden',
            over === d.day ? 'outline-3 -outline-offset-3 outline-stir' : '',
          ]"
          @dragover="past(d) || ($event.preventDefault(), (over = d.day))"
          @dragleave="over = over === d.day ? '' : over"
          @drop.prevent="past(d) || put(d.day)"
        >
          <p class="flex items-baseline justify-between">
            <span
              class="fig"
              :class="
                d.day === data.today ? 'bg-ink px-1.5 font-bold text-paper' : past(d) ? 'text-quiet' : ''
              "
              ><span class="md:hidden">{{ dayWord(noon(d.day), now) }}</span
              ><span class="max-md:hidden">{{ noon(d.day).getDate() }}</span></span
            >
            <span v-if="d.minutes" class="note fig" title="work on this day">{{ work(d.minutes) }}</span>
          </p>
          <ul class="text-sm leading-tight">
            <li
              v-for="(e, i) in d.entries"
              :key="i"
              class="mt-0.5 border-l-4 pl-1.5"
              :class="{
                'border-ink': e.what === 'pour' || e.what === 'build' || e.what === 'poured',
                'border-pot': e.what === 'touch' || e.what === 'cut',
                'border-dew': ['cured', 'ready', 'sale'].includes(e.what),
                'border-rule': e.what === 'disperse' || e.what === 'embeds',
              }"
            >
              <button
                v-if="e.what === 'pour'"
                type="button"
                class="min-h-6 w-full cursor-grab text-left font-bold max-md:min-h-11"
                draggable="true"
                :aria-pressed="holds({ recipe_id: e.recipe_id, nth: e.nth ?? null })"
                :class="holds({ recipe_id: e.recipe_id, nth: e.nth ?? null }) ? 'bg-ink text-paper' : ''"
                @dragstart="begin($event, ofEntry(e, d.day))"
                @click="pick(ofEntry(e, d.day))"
              >
                {{ e.message }} {{ e.recipe }}
              </button>
              <RouterLink
                v-else
                :to="placeOf(e)"
                class="line-clamp-2 min-h-6 py-0.5 hover:underline"
                :class="e.firm ? 'font-semibold' : 'text-quiet'"
                :title="`${e.recipe}: ${e.message}`"
                >{{ e.recipe
                }}<template v-if="e.what !== 'poured'">: {{ lower(e.message) }}</template></RouterLink
              >
            </li>
          </ul>
          <p
            v-for="s in d.scarce"
            :key="s"
            class="mt-1 text-sm leading-tight font-semibold text-pot"
            role="note"
          >
            {{ s }}.
          </p>
          <button
            v-if="held && !past(d)"
            type="button"
            class="absolute inset-0 bg-stir/10 hover:bg-stir/25"
            :aria-label="`Pour ${held.recipe} ${dayWord(noon(d.day), now)}`"
            @click="put(d.day)"
          />
        </li>
      </ol>
      <p class="note pt-2">
        Bold: said by you, and poured. The rest follows from it, by your own pours where there are any.
      </p>
    </template>
  </div>
</template>
