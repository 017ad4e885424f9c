<script setup lang="ts">
/** Who else is let in: a code for one more device, and the list of those that are. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useTimestamp } from '@vueuse/core'
import { api, take, type Schemas } from '../api/client'
import { useWrite } from '../api/writes'
import { day } from '../support/format'

const client = useQueryClient()
const { data } = useQuery({
  queryKey: ['devices'],
  queryFn: () => take(api.GET('/api/devices')),
  // While a code stands here, whoever used it appears by themselves.
  refetchInterval: (query) => (query.state.data?.invitation ? 2000 : false),
})
const ROLES = { bench: 'pours and rest', maker: 'everything', reader: 'reading the tables' } as const
const { run: act, trouble: refused } = useWrite((what: () => Promise<Schemas['DevicesView']>) => what(), {
  done: (made) => client.setQueryData(['devices'], made),
})
const invite = (role: 'bench' | 'maker') =>
  act(() => take(api.POST('/api/devices/invitation', { body: { role } })))
const share = (on: boolean) => act(() => take(api.PUT('/api/devices/sharing', { body: { on } })))
const sendAway = (device_id: string) =>
  act(() => take(api.DELETE('/api/devices/{device_id}', { params: { path: { device_id } } })))

/** A token for a program of the maker's own; it is told once. */
const purpose = ref('')
const token = ref<Schemas['TokenView'] | null>(null)
const issued = useWrite(() => take(api.POST('/api/devices/token', { body: { name: purpose.value } })), {
  touches: ['devices'],
  done: (made) => {
    token.value = made
    purpose.value = ''
  },
  once: true,
})
const issue = () => issued.run()
const trouble = computed(() => refused.value || issued.trouble.value)

const given = computed(() => data.value?.invitation)
const got = ref(Date.now())
watch(given, () => (got.value = Date.now()))
const now = useTimestamp({ interval: 1000 })
const left = computed(() => {
  const seconds = Math.max(0, Math.round((given.value?.seconds ?? 0) - (now.value - got.value) / 1000))
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`
})
const spaced = (code: string) => `${code.slice(0, 3)} ${code.slice(3)}`
</script>

<template>
  <section v-if="data" aria-labelledby="devices">
    <div class="ledger-head"><h2 id="devices">Phones and tablets</h2></div>
    <template v-if="data.sharing">
      <p class="pt-2">
        On this workshop's network at <b class="fig">{{ data.sharing.url }}</b>, for who is let in here.
      </p>
      <p v-if="!data.sharing.secure" class="message" role="alert">
        Without a certificate: whoever listens on this network can read along. Start without
        <code>--plain</code>.
      </p>
      <p class="flex flex-wrap gap-3 pt-3">
        <button type="button" class="key key-main" @click="invite('bench')">
          Let a device in for pours and rest
        </button>
        <button type="button" class="key" @click="invite('maker')">for everything</button>
      </p>
      <p class="note max-w-prose pt-2" data-test="role">
        For pours and rest it reads every recipe's bench sheet and ready check, pours, and looks after what
        rests. It changes no recipe, stock or setting, prints no record, and takes nothing back of a pour that
        has ended.
      </p>
      <div v-if="given" class="flex flex-wrap items-center gap-6 pt-4" data-test="invitation">
        <img
          :src="`/api/devices/invitation.svg?${given.code}`"
          alt="The way in as a picture for a phone's camera"
          class="w-44"
        />
        <div>
          <p>
            Scan it, or open <b class="fig">{{ data.sharing.url }}</b> and type
          </p>
          <p class="fig text-5xl font-bold" data-test="code">{{ spaced(given.code) }}</p>
          <p class="note pt-1">for {{ ROLES[given.role] }}; good once, for {{ left }} more</p>
        </div>
      </div>
      <button type="button" class="mt-3 block text-sm underline" @click="share(false)">
        Close it to the network
      </button>
      <details v-if="data.sharing.secure" class="pt-3">
        <summary class="cursor-pointer text-sm underline">Its browser warns of the certificate</summary>
        <p class="max-w-prose pt-1 text-sm">
          It is this workshop's own, so a browser warns once. Let it go on only when the SHA-256 fingerprint
          it shows is this one:
        </p>
        <p class="fig pt-1 text-sm break-all">{{ data.sharing.fingerprint }}</p>
      </details>
    </template>
    <div v-else class="flex flex-wrap items-center gap-4 pt-2">
      <p>Nobody else can reach this workshop. A phone by the sink can join over your own network.</p>
      <button type="button" class="key key-main" @click="share(true)">Let phones and tablets join</button>
    </div>
    <details class="pt-3">
      <summary class="cursor-pointer text-sm underline">A program of your own reads the tables</summary>
      <p class="max-w-prose pt-1 text-sm">
        At <code class="fig">/api/data</code> behind this address it finds recipes, weights, stock, pours,
        orders, costs and batches as JSON, and changes nothing. On this machine it needs no token; over the
        network it sends one as <code>Authorization: Bearer …</code>.
      </p>
      <form class="flex flex-wrap items-end gap-3 pt-2" @submit.prevent="issue">
        <label class="flex flex-col">
          <span class="note">what it is for</span>
          <input v-model="purpose" class="field" maxlength="60" placeholder="accounts" />
        </label>
        <button type="submit" class="key" :disabled="!purpose.trim()">Make a token</button>
      </form>
      <p v-if="token" class="pt-2" role="status">
        The token of {{ token.name }}, told this once:
        <code class="fig block break-all select-all" data-test="token">{{ token.token }}</code>
      </p>
    </details>
    <p v-if="trouble" class="message pt-2" role="alert">{{ trouble }}</p>
    <ul v-if="data.devices.length" class="pt-3" aria-label="Devices that are let in">
      <li v-for="d in data.devices" :key="d.id" class="row flex flex-wrap items-center gap-x-4 py-2">
        <b>{{ d.name }}</b>
        <span class="note">{{ ROLES[d.role] }} · last seen {{ day(d.seen) }}</span>
        <span v-if="d.id === data.me" class="note">this device</span>
        <button type="button" class="ml-auto text-sm underline" @click="sendAway(d.id)">send away</button>
      </li>
    </ul>
  </section>
</template>
