<script setup lang="ts">
/** Something was made here: it becomes a lot, and takes from the lots of what is in it. */
import { newId } from '../support/newId'
import { ownUnit, readNumber } from '../support/quantity'
import { computed, reactive } from 'vue'
import { api, fault, take, type Schemas } from '../api/client'
import { useWrite } from '../api/writes'

const props = defineProps<{ items: Schemas['ItemName'][] }>()
const emit = defineEmits<{ done: [] }>()
const made = computed(() => props.items.filter((i) => i.made))
const form = reactive({ item: made.value[0]?.item ?? '', grams: '', at: '' })
let id = newId() // asked twice, it is made once

const { run, refuse, faults } = useWrite(
  (body: Schemas['MakeLot']) =>
    take(api.PUT('/api/stock/{lot_id}/made', { params: { path: { lot_id: id } }, body })),
  {
    touches: ['stock'],
    done: () => {
      id = newId()
      emit('done')
    },
    once: true,
  },
)
const at = (pointer: string) => faults.value.find((f) => (f.pointer || '/item') === pointer)?.message
function save() {
  const grams = readNumber(form.grams, 'g')
  if (grams === null)
    return refuse([fault('/grams', form.grams.trim() ? 'This is not a number.' : 'Say how much was made.')])
  void run({ item: form.item, grams, label: '', at: form.at ? new Date(form.at).toISOString() : null })
}
</script>

<template>
  <form class="mt-3 border-l-4 border-ink bg-chalk px-5 py-4" @submit.prevent="save">
    <p v-if="!made.length">
      Nothing on the shelf is made here yet. Say what is in it under
      <RouterLink to="/ingredients" class="underline">Ingredients</RouterLink>, or bottle a blend.
    </p>
    <div v-else class="flex flex-wrap items-end gap-x-6 gap-y-3">
      <label class="flex flex-col">
        <span class="note">what was made</span>
        <select v-model="form.item" class="field">
          <option v-for="i in made" :key="i.item" :value="i.item">{{ i.name }}</option>
        </select>
        <span v-if="at('/item')" class="message" role="alert">{{ at('/item') }}</span>
      </label>
      <label class="flex flex-col">
        <span class="note">{{ ownUnit('g') }} of it</span>
        <input
          v-model="form.grams"
          class="field fig w-28"
          inputmode="decimal"
          :aria-invalid="!!at('/grams')"
        />
        <span v-if="at('/grams')" class="message" role="alert">{{ at('/grams') }}</span>
      </label>
      <label class="flex flex-col">
        <span class="note">when (empty: now)</span>
        <input v-model="form.at" type="datetime-local" class="field" :aria-invalid="!!at('/at')" />
        <span v-if="at('/at')" class="message" role="alert">{{ at('/at') }}</span>
      </label>
      <button type="submit" class="key key-main">It stands on the shelf</button>
    </div>
  </form>
</template>
