<script setup lang="ts">
/** A portion's colour: picked, or taken from a photograph by touching it. */
import { ref } from 'vue'

defineProps<{ tint: string; name: string }>()
const emit = defineEmits<{ pick: [tint: string] }>()
const photo = ref<HTMLCanvasElement | null>(null)
const asked = ref(false)
const shown = ref(false)
const trouble = ref('')
const WIDE = 320

async function bring(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file || !photo.value) return
  trouble.value = ''
  try {
    const image = await createImageBitmap(file)
    photo.value.width = WIDE
    photo.value.height = Math.round((image.height / image.width) * WIDE)
    photo.value.getContext('2d')?.drawImage(image, 0, 0, WIDE, photo.value.height)
    shown.value = true
  } catch {
    trouble.value = 'This is not a picture that can be read here.'
  }
}
/** The mean of what lies under the finger, 7 px each way. */
function touch(event: PointerEvent) {
  const canvas = event.currentTarget as HTMLCanvasElement
  const box = canvas.getBoundingClientRect()
  const x = Math.round(((event.clientX - box.left) / box.width) * canvas.width)
  const y = Math.round(((event.clientY - box.top) / box.height) * canvas.height)
  const pixels = canvas.getContext('2d')?.getImageData(Math.max(x - 3, 0), Math.max(y - 3, 0), 7, 7).data
  if (!pixels) return
  const mean = [0, 1, 2].map((c) => {
    let sum = 0
    for (let i = c; i < pixels.length; i += 4) sum += pixels[i] as number
    return Math.round(sum / (pixels.length / 4))
      .toString(16)
      .padStart(2, '0')
  })
  emit('pick', `#${mean.join('')}`)
  asked.value = shown.value = false
}
</script>

<template>
  <span class="relative">
    <button
      type="button"
      class="block h-5 w-7 rounded-[50%] border border-ink"
      :style="{ background: tint }"
      :aria-label="`Colour of ${name}`"
      :aria-expanded="asked"
      @click="asked = !asked"
    />
    <span
      v-if="asked"
      class="absolute top-7 left-0 z-40 flex w-max flex-col gap-2 border border-ink bg-chalk p-3 shadow-lg"
      @keydown.esc="asked = false"
    >
      <label class="flex items-center gap-3">
        <input
          type="color"
          class="h-9 w-14"
          :value="tint"
          :aria-label="`Pick the colour of ${name}`"
          @input="emit('pick', ($event.target as HTMLInputElement).value)"
        />
        picked
      </label>
      <label class="key cursor-pointer focus-within:outline-3">
        from a photo
        <input type="file" accept="image/*" class="sr-only" @change="bring" />
      </label>
      <span v-if="trouble" class="message">{{ trouble }}</span>
      <span v-show="shown">
        <span class="note">Touch the soap.</span>
        <canvas ref="photo" class="block max-w-80 cursor-crosshair" @pointerdown="touch" />
      </span>
      <button type="button" class="key" @click="asked = false">Done</button>
    </span>
  </span>
</template>
