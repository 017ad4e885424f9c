<script setup lang="ts">
/** Pictures of a batch; a colour is taken from one by a tap. */
import { ref } from 'vue'
import type { Schemas } from '../api/client'
import { usePhotos } from '../api/writes'
import PickColour from './PickColour.vue'

const props = defineProps<{ id: string; view: Schemas['RestView']; hours: number }>()
const emit = defineEmits<{ tap: [event: Record<string, unknown>]; refresh: [] }>()
const picking = ref<Schemas['PhotoView'] | null>(null)
const photos = usePhotos(
  () => props.id,
  () => emit('refresh'),
)
const { busy, trouble } = photos
const upload = (change: Event) => photos.pick(change, Math.max(0, Math.floor(props.hours / 24)), '')
const putAway = photos.remove.run
</script>

<template>
  <section aria-labelledby="pictures">
    <div class="ledger-head">
      <h2 id="pictures">Pictures</h2>
      <span class="ml-auto flex gap-4 text-sm">
        <span v-if="busy" role="status">keeping it …</span>
        <label class="cursor-pointer underline focus-within:outline-3 sm:hidden">
          take one
          <input
            type="file"
            accept="image/*"
            capture="environment"
            class="sr-only"
            :disabled="busy"
            @change="upload"
          />
        </label>
        <label class="cursor-pointer underline focus-within:outline-3">
          add one
          <input type="file" accept="image/*" class="sr-only" :disabled="busy" @change="upload" />
        </label>
      </span>
    </div>
    <p v-if="trouble" class="message pt-1" role="alert">{{ trouble }}</p>
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
