<script setup lang="ts">
/** A device that is not let in yet: the code from the workshop's own screen, and a name to know it by. */
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '../api/client'
import { useWrite } from '../api/writes'
import { iAm, me } from '../support/me'
import { startUnits } from '../support/units'

const router = useRouter()
const code = ref(useRoute().hash.replace(/\D/g, '').slice(0, 6))
const name = ref(/iPad|Tablet/.test(navigator.userAgent) ? 'Tablet' : /Mobi/.test(navigator.userAgent) ? 'Phone' : '') // prettier-ignore
const {
  run: pair,
  busy,
  at,
} = useWrite(
  async () => {
    iAm(await take(api.POST('/api/pair', { body: { code: code.value, name: name.value } })))
    await startUnits()
  },
  { done: () => router.replace('/'), once: true },
)
</script>

<template>
  <div class="mx-auto max-w-md px-6 py-8">
    <h1 class="text-3xl font-bold">Let this device in</h1>
    <p class="pt-2">
      On the workshop's own screen, <b>Workshop</b> shows a code of six figures that is good for five minutes.
    </p>
    <form class="flex flex-col gap-4 pt-5" @submit.prevent="pair">
      <label class="flex flex-col">
        <span class="note">the code</span>
        <input
          v-model="code"
          class="field fig w-full text-center text-4xl tracking-[0.3em]"
          inputmode="numeric"
          autocomplete="one-time-code"
          maxlength="7"
          placeholder="000000"
          :aria-invalid="!!at('/code')"
        />
        <span v-if="at('/code')" class="message" role="alert">{{ at('/code') }}</span>
      </label>
      <label class="flex flex-col">
        <span class="note">what this device is called</span>
        <input
          v-model="name"
          class="field w-full text-xl"
          placeholder="Phone by the sink"
          maxlength="60"
          :aria-invalid="!!at('/name')"
        />
        <span v-if="at('/name')" class="message" role="alert">{{ at('/name') }}</span>
      </label>
      <p v-if="at('')" class="message" role="alert">{{ at('') }}</p>
      <button type="submit" class="key key-main min-h-14! text-lg" :disabled="busy">Let me in</button>
    </form>
    <p v-if="me.network" class="note pt-6">
      The warning before this page came because the workshop signs for itself.
      <a href="/api/root.crt" class="underline">Its certificate</a> can be put on this device, and no warning
      comes again; it is good for private addresses alone.
    </p>
  </div>
</template>
