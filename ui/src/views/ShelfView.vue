<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, take, type NewFragrance } from '../api/client'
import { useFragranceFiles } from '../api/queries'
import { useWrite } from '../api/writes'
import EffectSpan from '../shelf/EffectSpan.vue'
import { CLAIM_WORDS, times } from '../support/format'
import FragranceForm from '../shelf/FragranceForm.vue'
import ShelfTabs from '../shelf/ShelfTabs.vue'

const router = useRouter()
const { data, isPending, error } = useFragranceFiles()
const files = computed(() => data.value?.fragrances ?? [])
const adding = ref(false)

const { run: add, faults } = useWrite(
  (fragrance: NewFragrance) => take(api.POST('/api/fragrances', { body: fragrance })),
  {
    touches: ['fragrances', 'shelf'],
    done: (made) => router.push(`/shelf/${made.fragrances[0]?.fragrance.id}`),
    once: true,
  },
)
</script>

<template>
  <div class="mx-auto max-w-7xl px-6 py-5 max-sm:px-4">
    <ShelfTabs />
    <div class="flex flex-wrap items-end gap-4">
      <p class="text-quiet">
        How much sooner medium trace comes with 3 % of each: claimed (dashed), seen by other makers (grey), by
        your own pours.
        <b v-if="data?.fresh === false" role="status">Your last pour is still being learned from.</b>
      </p>
      <button type="button" class="key key-main ml-auto" @click="adding = !adding">
        {{ adding ? 'Cancel' : 'New fragrance' }}
      </button>
    </div>
    <FragranceForm v-if="adding" class="mt-4" :refused="faults" save="Save" @save="add" />
    <p v-if="error" class="message pt-4" role="alert">{{ error.message }}</p>
    <p v-else-if="isPending" class="py-6" role="status">Reading the record …</p>
    <p v-else-if="!files.length" class="py-8 text-lg">
      Nothing here yet. Put a fragrance on the shelf with what its supplier claims; your pours do the rest.
    </p>
    <div
      v-if="files.length"
      class="mt-3 grid gap-x-6 max-md:hidden md:grid-cols-[minmax(0,1fr)_11rem_minmax(0,1.6fr)_12rem]"
    >
      <span class="note self-end">fragrance</span>
      <span class="note self-end">claimed</span>
      <EffectSpan small />
      <span class="note self-end text-right">medium, as soon as unscented</span>
    </div>
    <ol class="border-t-3 border-ink max-md:mt-4">
      <li
        v-for="f in files"
        :key="f.fragrance.id"
        class="row grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-6 py-1.5 md:grid-cols-[minmax(0,1fr)_11rem_minmax(0,1.6fr)_12rem]"
      >
        <RouterLink :to="`/shelf/${f.fragrance.id}`" class="truncate font-bold hover:underline">
          {{ f.fragrance.name }}
        </RouterLink>
        <span class="truncate text-quiet max-md:hidden">{{
          f.fragrance.parts?.length ? 'a blend' : CLAIM_WORDS[f.fragrance.claim]
        }}</span>
        <EffectSpan :file="f" small class="max-md:hidden" />
        <span class="text-right">
          <b class="fig">{{ times(f.learned.mid) }}</b>
          <span class="note">
            ·
            {{
              f.poured
                ? `${f.poured} pour${f.poured > 1 ? 's' : ''}`
                : f.heard
                  ? 'other makers'
                  : f.fragrance.parts?.length
                    ? 'by its parts'
                    : 'claim only'
            }}</span
          >
        </span>
      </li>
    </ol>
  </div>
</template>
