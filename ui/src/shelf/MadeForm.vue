<script setup lang="ts">
/** Something made ahead here: an oil or liquid infused, or a colourant stirred into an oil or liquid. */
import { inField, ownUnit, readNumber, type Unit } from '../support/quantity'
import { computed, reactive, ref } from 'vue'
import { fault, type Fault, type Schemas } from '../api/client'
import { useShelf } from '../api/queries'
import { useCustom } from '../api/writes'
import PickList from '../fields/PickList.vue'
import CustomForm from './CustomForm.vue'

type New = Schemas['NewInfusion'] | Schemas['NewPremix']
const props = defineProps<{ own: Schemas['CustomIngredient'] | null }>()
const emit = defineEmits<{ done: [] }>()
const { data: shelf } = useShelf()

const was = props.own?.fat ?? props.own?.liquid ?? props.own?.additive
const kind = ref<New['kind']>(props.own?.additive ? 'premix' : 'infusion')
const form = reactive({
  name: was?.name ?? '',
  base: (props.own?.additive ? null : (was?.made?.of[0]?.item ?? null)) as string | null,
  steeped: '',
  tint: was?.tint ?? '',
  keeps: was?.made ? String(was.made.keeps) : '',
})
const parts = ref(
  props.own?.additive?.made
    ? props.own.additive.made.of.map((p) => ({
        item: p.item as string | null,
        grams: inField(100 * p.share, 'g', 3),
      }))
    : [
        { item: null as string | null, grams: '' },
        { item: null as string | null, grams: '' },
      ],
)
/** What is found here, before it is asked. */
const found = ref<Fault[]>([])
const { run, refuse, at, besides } = useCustom(was?.id, () => emit('done'))
const bases = computed(() => [
  ...(shelf.value?.fats ?? []).map((f) => ({ id: `fat:${f.id}`, name: f.name, hint: 'fat' })),
  ...(shelf.value?.liquids ?? []).map((l) => ({ id: `liquid:${l.id}`, name: l.name, hint: 'liquid' })),
])
const choices = computed(() => [
  ...(shelf.value?.additives ?? []).map((a) => ({ id: `additive:${a.id}`, name: a.name, hint: a.kind })),
  ...bases.value,
])
const elsewhere = computed(() =>
  besides([
    '/name',
    '/base',
    '/keeps',
    '/parts',
    ...parts.value.flatMap((_, i) => [`/parts/${i}/item`, `/parts/${i}/grams`]),
  ]),
)

function typed(text: string, pointer: string, needed: boolean, unit: Unit): number | null {
  if (!text.trim() && !needed) return null
  const read = readNumber(text, unit)
  if (read === null)
    found.value.push(fault(pointer, text.trim() ? 'This is not a number.' : 'A number is needed here.'))
  return read
}

function read(): New | null {
  found.value = []
  const keeps = typed(form.keeps, '/keeps', false, '')
  if (kind.value === 'infusion') {
    if (!form.base) found.value.push(fault('/base', 'Choose the oil or the liquid.'))
    if (found.value.length || !form.base) return null
    return {
      kind: 'infusion',
      name: form.name,
      base: form.base,
      steeped: form.steeped,
      tint: form.tint,
      keeps,
    }
  }
  const into = parts.value.map((p, i) => {
    if (!p.item) found.value.push(fault(`/parts/${i}/item`, 'Choose what it is.'))
    return { item: p.item ?? '', grams: typed(p.grams, `/parts/${i}/grams`, true, 'g') ?? 0 }
  })
  return found.value.length ? null : { kind: 'premix', name: form.name, parts: into, keeps }
}

function save() {
  const ingredient = read()
  if (!refuse(found.value) && ingredient) void run(ingredient)
}
</script>

<template>
  <CustomForm
    v-model:kind="kind"
    v-model:name="form.name"
    :there="!!own"
    :kinds="{
      infusion: 'an oil or liquid, infused',
      premix: 'a colourant, stirred into something',
    }"
    kind-of="What is made"
    name-of="name"
    :at="at"
    :elsewhere="elsewhere"
    @save="save"
  >
    <template v-if="kind === 'infusion'">
      <div class="flex flex-col">
        <span class="note">in which oil or liquid</span>
        <PickList label="Base" :options="bases" :chosen="form.base" @pick="(id) => (form.base = id)" />
        <span v-if="at('/base')" class="message" role="alert">{{ at('/base') }}</span>
      </div>
      <label class="flex flex-col">
        <span class="note">what was steeped in it and strained out</span>
        <input v-model="form.steeped" class="field" maxlength="80" />
      </label>
      <label class="flex flex-col">
        <span class="note">soap made with it is</span>
        <span class="flex items-center gap-2">
          <input v-model="form.tint" type="color" class="h-8 w-14" />
          <button v-if="form.tint" type="button" class="text-sm underline" @click="form.tint = ''">
            not known
          </button>
        </span>
      </label>
    </template>
    <label class="flex flex-col">
      <span class="note">keeps, days (empty: as is usual)</span>
      <input v-model="form.keeps" class="field fig" inputmode="numeric" :aria-invalid="!!at('/keeps')" />
      <span v-if="at('/keeps')" class="message" role="alert">{{ at('/keeps') }}</span>
    </label>
    <template #more>
      <fieldset v-if="kind === 'premix'" class="pt-3">
        <legend class="note">what goes into it, by weight</legend>
        <div v-for="(p, i) in parts" :key="i" class="flex flex-wrap items-baseline gap-2 pt-1">
          <PickList
            class="w-72"
            :label="i ? 'Stirred into, or with' : 'Colourant or powder'"
            :options="choices"
            :chosen="p.item"
            @pick="(id) => (p.item = id)"
          />
          <input
            v-model="p.grams"
            class="field fig w-20 text-right"
            inputmode="decimal"
            :aria-label="`Grams of part ${i + 1}`"
            :aria-invalid="!!at(`/parts/${i}/grams`)"
          />
          <span class="unit">{{ ownUnit('g') }}</span>
          <button
            v-if="parts.length > 2"
            type="button"
            class="take-out"
            aria-label="Take this part out"
            @click="parts.splice(i, 1)"
          >
            ×
          </button>
          <span v-if="at(`/parts/${i}/item`) || at(`/parts/${i}/grams`)" class="message" role="alert">{{
            at(`/parts/${i}/item`) || at(`/parts/${i}/grams`)
          }}</span>
        </div>
        <button
          v-if="parts.length < 8"
          type="button"
          class="text-sm underline"
          @click="parts.push({ item: null, grams: '' })"
        >
          one more
        </button>
        <span v-if="at('/parts')" class="message block" role="alert">{{ at('/parts') }}</span>
      </fieldset>
      <p class="note pt-2">
        The lye knows what is in it: an infused oil is weighed as its oil, and the oil and water of a premix
        count.
      </p>
    </template>
  </CustomForm>
</template>
