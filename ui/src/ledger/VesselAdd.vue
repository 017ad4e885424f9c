<script setup lang="ts">
/** One way to add whatever may stand in a vessel. */
import { computed, ref } from 'vue'
import { useShelf } from '../api/queries'
import { injectDraft } from './useDraft'
import { useMoments, type Vessel } from './moments'
import MakeHere from './MakeHere.vue'
import PickList from '../fields/PickList.vue'
import { written } from '../support/decimal'
import { shared } from '../support/shared'

const props = defineProps<{ vessel: Vessel }>()
const emit = defineEmits<{ fat: [id: string] }>()
const draft = injectDraft()
const { data: shelf } = useShelf()
const { vesselOf } = useMoments()

const LABELS = {
  pot: 'Add an oil, butter or clay',
  jug: 'Add milk, tea, sugar, acid or salt',
  stir: 'Add fragrance or colour',
}
/** What may be made here of a name that the shelf lacks; liquids need figures of their own. */
const MAKES: Record<Vessel, string | undefined> = { pot: 'oil', jug: undefined, stir: 'fragrance or colour' }
const making = ref<string | null>(null)
const used = shared(() => {
  const recipe = draft.recipe.value
  const on = shelf.value
  if (!recipe || !on) return []
  return [
    ...recipe.fats.map((f) => `fat:${f.fat}`),
    ...recipe.liquids.map((l) => `liquid:${l.liquid}`),
    ...recipe.scents.map((s) => `scent:${s.fragrance}`),
    // A colour may be added again: for another portion, or another one of its kind beside it.
    ...recipe.additives
      .filter((a) => !a.into.length && on.additives.find((x) => x.id === a.additive)?.kind !== 'pigment')
      .map((a) => `additive:${a.additive}`),
  ]
})
const options = computed(() => {
  const on = shelf.value
  if (!on) return []
  const taken = new Set(used.value)
  const hidden = new Set(on.hidden)
  const own = {
    pot: on.fats.map((f) => ({ id: `fat:${f.id}`, name: f.name, hint: `SV ${f.sv_low}–${f.sv_high}` })),
    jug: on.liquids
      .filter((l) => l.kind !== 'water')
      .map((l) => ({ id: `liquid:${l.id}`, name: l.name, hint: 'liquid' })),
    stir: on.fragrances.map((f) => ({ id: `scent:${f.id}`, name: f.name, hint: 'fragrance' })),
  }[props.vessel]
  const rest = on.additives
    .filter((a) => vesselOf(a.moment) === props.vessel)
    .map((a) => ({ id: `additive:${a.id}`, name: a.name, hint: `${written(a.usual)} g/kg usual` }))
  const also = (id: string) => on.also[id.slice(id.indexOf(':') + 1)]
  const offered = (o: { id: string }) => !taken.has(o.id) && !hidden.has(o.id.slice(o.id.indexOf(':') + 1))
  return [...own, ...rest].filter(offered).map((o) => ({ ...o, also: also(o.id) }))
})

function add(picked: string) {
  const [kind, id] = picked.split(':') as [string, string]
  if (kind === 'fat') return emit('fat', id)
  void draft.adjust({
    kind: 'add_thing',
    what: kind as 'liquid' | 'scent' | 'additive',
    item: id,
    into: null,
  })
}
</script>

<template>
  <MakeHere
    v-if="making !== null"
    :vessel="vessel"
    :name="making"
    @made="(what, id) => ((making = null), add(`${what}:${id}`))"
    @cancel="making = null"
  />
  <PickList
    v-else
    class="pt-2"
    :label="LABELS[vessel]"
    :options="options"
    :makes="MAKES[vessel]"
    @pick="add"
    @make="(name) => (making = name)"
  />
</template>
