<script setup lang="ts">
/** Pictures of a batch; a colour is taken from one by a tap. */
import { ref } from 'vue'
import { api, Refused, send, take, type Schemas } from '../api/client'
import { shrunk } from '../support/picture'
import PickColour from './PickColour.vue'

const props = defineProps<{ id: string; view: Schemas['RestView']; hours: number }>()
const emit = defineEmits<{ tap: [event: Record<string, unknown>]; refresh: [] }>()
const fault = ref('')
const picking = ref<Schemas['PhotoView'] | null>(null)
const working = ref(false)
async function upload(change: Event) {
  const input = change.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  fault.value = ''
  working.value = true
  try {
    const form = new FormData()
    form.append('file', await shrunk(file))
    form.append('days', String(Math.max(0, Math.floor(props.hours / 24))))
    form.append('note', '')
    await send(`/api/pours/${props.id}/photos`, form)
    emit('refresh')
  } catch (error) {
    fault.value =
      error instanceof Refused
        ? (error.problem.errors[0]?.message ?? error.message)
        : (error as Error).message
  } finally {
    working.value = false
    input.value = ''
  }
}
async function putAway(photo: string) {
  await take(api.DELETE('/api/photos/{photo_id}', { params: { path: { photo_id: photo } } }))
  emit('refresh')
}
</script>

<template>
  <section aria-labelledby="pictures">
    <div class="ledger-head">
      <h2 id="pictures">Pictures</h2>
      <span class="ml-auto flex gap-4 text-sm">
        <span v-if="working" role="status">keeping it …</span>
        <label class="cursor-pointer underline focus-within:outline-3 sm:hidden">
          take one
          <input
            type="file"
            accept="image/*"
            capture="environment"
            class="sr-only"
            :disabled="working"
            @change="upload"
          />
        </label>
        <label class="cursor-pointer underline focus-within:outline-3">
          add one
          <input type="file" accept="image/*" class="sr-only" :disabled="working" @change="upload" />
        </label>
      </span>
    </div>
    <p v-if="fault" class="message pt-1" role="alert">{{ fault }}</p>
    <p v-else-if="!view.photos.length" class="note pt-1">
      None yet: the cut face is worth one. Tap a picture to take a colour from it.
    </p>
    <PickColour
      v-if="picking"
      :key="picking.id"
      class="mt-2"
      :photo="picking"
      :portions="view.portions.map((p) => p.name)"
      @tap="(event) => emit('tap', event)"
      @close="picking = null"
    />
    <ul class="flex flex-wrap gap-3 pt-2">
      <li v-for="p in view.photos" :key="p.id" class="w-32 text-sm">
        <button
          type="button"
          class="block focus-visible:outline-3"
          :aria-label="`Take a colour from the picture of day ${p.days}`"
          @click="picking = p"
        >
          <img
            :src="`/api/photos/${p.id}`"
            :alt="p.note || `day ${p.days}`"
            class="h-22 w-32 rounded object-cover"
          />
        </button>
        day {{ p.days }} {{ p.note }}
        <button
          type="button"
          class="underline"
          :aria-label="`Put away picture of day ${p.days}`"
          @click="putAway(p.id)"
        >
          put away
        </button>
      </li>
    </ul>
  </section>
</template>
