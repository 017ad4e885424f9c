<script setup lang="ts">
/** What the Recipe and Forecast places of one draft share: its name, its keeping, and the way to the bench. */
import { computed, ref, watchEffect } from 'vue'
import { useEventListener } from '@vueuse/core'
import { RouterView, useRoute, useRouter } from 'vue-router'
import { fault, Refused, type Fault } from '../api/client'
import { titleOf } from '../router'
import { provideDraft } from '../ledger/useDraft'
import ConflictPanel from '../ledger/ConflictPanel.vue'
import Message from '../fields/Message.vue'
import TextField from '../fields/TextField.vue'
import { provideRewrite } from '../fields/useTyped'

const props = defineProps<{ id: string }>()
const router = useRouter()
const draft = provideDraft(props.id)
const recipe = draft.recipe
provideRewrite(draft.rewritten)
const route = useRoute()
watchEffect(() => {
  if (recipe.value) document.title = `${recipe.value.name} · ${titleOf(route.name)} · Round Stone`
})
const refused = ref<Fault[]>([])
const starting = ref(false)

const state = computed(
  () =>
    ({
      saved: 'saved',
      saving: 'saving …',
      offline: 'not saved yet: Round Stone does not answer',
      conflict: 'changed in another window',
    })[draft.saveState.value],
)
const ready = computed(() => draft.current.value && draft.sheet.value !== null)

async function start() {
  starting.value = true
  refused.value = []
  try {
    await draft.save()
    if (draft.actFaults.value.length) return // it is said where it was typed
    if (draft.saveState.value !== 'saved')
      throw new Error('The recipe could not be saved, so it was not started.')
    await router.push(`/recipes/${props.id}/ready`)
  } catch (error) {
    refused.value =
      error instanceof Refused && error.problem.errors.length
        ? error.problem.errors
        : [fault('', (error as Error).message)]
  } finally {
    starting.value = false
  }
}

function key(event: KeyboardEvent) {
  if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return
  event.preventDefault()
  if (event.shiftKey) draft.redo()
  else draft.undo()
}
useEventListener('keydown', key)
</script>

<template>
  <div class="mx-auto flex min-h-[calc(100dvh-3.4rem)] max-w-7xl flex-col px-6 pt-4 max-sm:px-4">
    <p v-if="draft.missing.value" class="py-10 text-lg">
      {{ draft.missing.value }} <RouterLink to="/" class="underline">To the recipes</RouterLink>
    </p>
    <p v-else-if="!recipe && draft.unreachable.value" class="message py-10 text-lg" role="alert">
      {{ draft.unreachable.value }}
    </p>
    <template v-else-if="recipe">
      <div class="flex flex-wrap items-center gap-x-4 gap-y-2 pb-2">
        <h1 class="min-w-0 flex-1 basis-72">
          <TextField
            class="w-full text-3xl font-bold text-ellipsis not-hover:not-focus:border-transparent"
            label="Name of the recipe"
            :model-value="recipe.name"
            :faulty="draft.faultsAt('/name').length > 0"
            @update:model-value="(name) => draft.edit('/name', (d) => void (d.name = name))"
          />
        </h1>
        <span class="note" role="status" :class="draft.saveState.value === 'saved' ? '' : 'font-semibold'">
          {{ state }}
        </span>
        <span class="flex flex-wrap items-center gap-2">
          <button
            type="button"
            class="key"
            :disabled="!draft.canUndo.value"
            title="Ctrl Z"
            @click="draft.undo"
          >
            Undo
          </button>
          <button
            v-if="draft.canRedo.value"
            type="button"
            class="key"
            title="Ctrl Shift Z"
            @click="draft.redo"
          >
            Redo
          </button>
          <RouterLink v-if="ready" :to="`/recipes/${id}/bench-sheet`" class="key inline-flex items-center"
            >Print sheet</RouterLink
          >
          <button
            v-if="draft.meta.running"
            type="button"
            class="key"
            :disabled="!ready || starting"
            @click="start"
          >
            Get ready again
          </button>
          <RouterLink v-if="draft.meta.running" :to="`/pours/${draft.meta.running}`" class="key key-main">
            To the running pour
          </RouterLink>
          <button v-else type="button" class="key key-main" :disabled="!ready || starting" @click="start">
            Get ready to pour
          </button>
        </span>
      </div>
      <ConflictPanel v-if="draft.theirs.value" />
      <Message :faults="[...draft.faultsAt('/name'), ...draft.faultsAt(''), ...refused]" />
      <p v-if="draft.unreachable.value" class="message" role="alert">
        {{ draft.unreachable.value }} No weights are shown until then.
      </p>
      <RouterView />
    </template>
  </div>
</template>
