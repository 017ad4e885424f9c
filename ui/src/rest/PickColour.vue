<script setup lang="ts">
/** A picture to take a colour from: tap the soap, say what it is of, and it is kept as seen. */
import { ref } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { useSwatchMoments } from './moments'

type Moment = Schemas['SwatchSeen']['at']
const props = defineProps<{
  photo: Schemas['PhotoView']
  portions: readonly string[]
}>()
const moments = useSwatchMoments()
const emit = defineEmits<{ tap: [event: Record<string, unknown>]; close: [] }>()
const spot = ref<{ x: number; y: number } | null>(null)
const seen = ref<Schemas['SpotColour'] | null>(null)
const message = ref('')
const portion = ref(props.portions[0] ?? '')
const at = ref<Moment>('cut')

async function look(click: MouseEvent) {
  const box = (click.currentTarget as HTMLElement).getBoundingClientRect()
  const part = (v: number, from: number, size: number) => Math.min(Math.max((v - from) / size, 0), 1)
  const here = { x: part(click.clientX, box.left, box.width), y: part(click.clientY, box.top, box.height) }
  spot.value = here
  message.value = ''
  try {
    seen.value = await take(
      api.GET('/api/photos/{photo_id}/colour', {
        params: { path: { photo_id: props.photo.id }, query: { ...here, days: props.photo.days } },
      }),
    )
    at.value = seen.value.at
  } catch (error) {
    seen.value = null
    message.value = (error as Error).message
  }
}
function keep() {
  if (!seen.value) return
  emit('tap', { kind: 'swatch', portion: portion.value || null, at: at.value, tint: seen.value.tint })
  seen.value = null
  spot.value = null
}
</script>

<template>
  <div class="border-l-4 border-ink bg-chalk p-3" data-test="pick">
    <div class="flex flex-wrap items-center gap-3">
      <span
        class="h-12 w-16 rounded border-[1.5px]"
        :class="seen ? 'border-ink' : 'border-dashed border-quiet'"
        :style="{ background: seen?.tint }"
      />
      <b v-if="seen" class="text-lg">{{ seen.name }}</b>
      <span v-else class="text-quiet">Tap the soap in the picture.</span>
      <template v-if="seen">
        <select v-model="portion" class="field" aria-label="Colour of">
          <option v-for="p in portions" :key="p" :value="p">{{ p }}</option>
        </select>
        <select v-model="at" class="field" aria-label="Seen">
          <option v-for="m in moments" :key="m.at" :value="m.at">{{ m.words }}</option>
        </select>
        <button type="button" class="key key-main min-h-12!" @click="keep">Save this colour</button>
      </template>
      <button type="button" class="ml-auto text-sm underline" @click="emit('close')">close</button>
    </div>
    <p v-if="message" class="message" role="alert">{{ message }}</p>
    <div class="relative mt-2 inline-block cursor-crosshair" @click="look">
      <img :src="`/api/photos/${photo.id}`" :alt="photo.note || `day ${photo.days}`" class="max-h-[60vh]" />
      <span
        v-if="spot"
        class="pointer-events-none absolute size-6 -translate-1/2 rounded-full border-2 border-chalk outline-2 outline-ink"
        :style="{ left: `${100 * spot.x}%`, top: `${100 * spot.y}%` }"
      />
    </div>
  </div>
</template>
