<script setup lang="ts">
/** Fats with the saponification value of the maker's own certificate: added, hidden, never changed. */
import { computed, reactive, ref } from 'vue'
import { api, Refused, take, type Fault } from '../api/client'
import { useOwnFats, useRefresh, useShelf } from '../api/queries'
import PickList from './PickList.vue'

const { data } = useOwnFats()
const { data: shelf } = useShelf()
const refresh = useRefresh()
const form = reactive({ name: '', kin: null as string | null, sv: '' })
const adding = ref(false)
const faults = ref<Fault[]>([])
const hidden = ref<{ id: string; name: string } | null>(null)

const kin = computed(() =>
  (shelf.value?.fats ?? []).map((f) => ({ id: f.id, name: f.name, hint: `SV ${f.sv_low}–${f.sv_high}` })),
)
const at = computed(() => (pointer: string) => faults.value.find((f) => f.pointer === pointer)?.says)
const fault = (pointer: string, says: string): Fault => ({ pointer, says, mends: [] })

async function add() {
  const typed = form.sv.trim().replace(',', '.')
  faults.value = [
    ...(form.kin ? [] : [fault('/kin', 'Choose the fat it is, or is most like.')]),
    ...(/^\d+(\.\d+)?$/.test(typed) ? [] : [fault('/sv', 'This is not a number.')]),
  ]
  if (faults.value.length || !form.kin) return
  try {
    await take(api.POST('/api/own-fats', { body: { name: form.name, kin: form.kin, sv: Number(typed) } }))
    Object.assign(form, { name: '', kin: null, sv: '' })
    adding.value = false
    await refresh('own-fats', 'shelf')
  } catch (problem) {
    if (!(problem instanceof Refused)) throw problem
    faults.value = problem.problem.errors
  }
}
async function hide(id: string, name: string) {
  await take(api.DELETE('/api/own-fats/{fat_id}', { params: { path: { fat_id: id } } }))
  hidden.value = { id, name }
  await refresh('own-fats', 'shelf')
}
async function restore(id: string) {
  await take(api.POST('/api/own-fats/{fat_id}/restore', { params: { path: { fat_id: id } } }))
  hidden.value = null
  await refresh('own-fats', 'shelf')
}
</script>

<template>
  <section aria-labelledby="own-fats" class="pt-8">
    <div class="flex flex-wrap items-end gap-4">
      <h2 id="own-fats" class="text-2xl font-bold">Your own fats</h2>
      <p class="text-quiet">
        By the saponification value on their certificate: the lye follows it, and the superfat's range
        narrows.
      </p>
      <button type="button" class="key ml-auto" @click="adding = !adding">
        {{ adding ? 'Not now' : 'New fat' }}
      </button>
    </div>
    <form
      v-if="adding"
      class="mt-3 grid gap-x-8 gap-y-3 border-l-4 border-pot bg-chalk px-5 py-4 md:grid-cols-3"
      @submit.prevent="add"
    >
      <div class="flex flex-col">
        <label class="note" for="own-name">name, perhaps with its lot</label>
        <input id="own-name" v-model="form.name" class="field text-lg" maxlength="80" required />
        <span v-if="at('/name')" class="says" role="alert">{{ at('/name') }}</span>
      </div>
      <div class="flex flex-col">
        <span class="note">it is, or is most like</span>
        <PickList label="Kin of the fat" :options="kin" :chosen="form.kin" @pick="(id) => (form.kin = id)" />
        <span v-if="at('/kin')" class="says" role="alert">{{ at('/kin') }}</span>
      </div>
      <div class="flex flex-col">
        <label class="note" for="own-sv">saponification value, mg KOH per g</label>
        <input id="own-sv" v-model="form.sv" class="field fig" inputmode="decimal" required />
        <span v-if="at('/sv')" class="says" role="alert">{{ at('/sv') }}</span>
      </div>
      <button type="submit" class="key key-main justify-self-start md:col-span-3">Put it on the shelf</button>
    </form>
    <p v-if="hidden" class="pt-2" role="status">
      {{ hidden.name }} is hidden; recipes that use it go on.
      <button type="button" class="underline" @click="restore(hidden.id)">Bring it back</button>
    </p>
    <ol class="mt-3 border-t-3 border-pot">
      <li v-if="!data?.fats.length" class="py-2 text-quiet">
        None yet. The fats on the shelf carry their published ranges.
      </li>
      <li v-for="own in data?.fats" :key="own.fat.id" class="row flex flex-wrap items-center gap-x-6 py-1">
        <b class="min-w-40">{{ own.fat.name }}</b>
        <span class="fig">SV {{ own.fat.sv }}</span>
        <span class="note">{{ own.fat.source }}</span>
        <span v-for="c in own.cautions" :key="c.says" class="note">{{ c.says }}</span>
        <button
          type="button"
          class="take-out ml-auto"
          :aria-label="`Hide ${own.fat.name}`"
          @click="hide(own.fat.id, own.fat.name)"
        >
          ×
        </button>
      </li>
    </ol>
  </section>
</template>
