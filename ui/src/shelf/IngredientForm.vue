<script setup lang="ts">
/** An ingredient of the maker's own: a fat by its certificate, a liquid by what is in it, or anything else. */
import { readNumber } from '../support/quantity'
import { computed, reactive, ref } from 'vue'
import { fault, type Fault, type Schemas } from '../api/client'
import { useShelf } from '../api/queries'
import { useCustom } from '../api/writes'
import { useMoments } from '../ledger/moments'
import PickList from '../fields/PickList.vue'
import CustomForm from './CustomForm.vue'
import { number } from '../support/format'

type New = Exclude<Schemas['NewOwn']['ingredient'], { kind: 'infusion' | 'premix' | 'like' }>
const props = defineProps<{ own: Schemas['CustomIngredient'] | null }>()
const emit = defineEmits<{ done: [] }>()
const { data: shelf } = useShelf()
const moments = useMoments()
/** What may have a tint. */
const COLOURS = computed(() => [...(shelf.value?.colouring ?? []), 'other'])

const { fat, liquid, additive } = props.own ?? {}
/** Fatty acids, as the shelf names them. */
const ACIDS = computed(() => shelf.value?.acids ?? [])
const SORTS = [
  'acid',
  'sugar',
  'salt',
  'lactate',
  'silk',
  'clay',
  'powder',
  'milk',
  'pigment',
  'oil',
  'alcohol',
  'other',
] as const
const shown = (n: number | null | undefined, scale = 1) => (n == null ? '' : number(n * scale))
const kind = ref<New['kind']>(liquid ? 'liquid' : additive ? 'additive' : 'fat')
const form = reactive({
  name: (fat ?? liquid ?? additive)?.name ?? '',
  kin: fat?.id ?? (null as string | null),
  milk: liquid?.kind === 'milk',
  sort: (additive?.kind ?? 'acid') as (typeof SORTS)[number],
  moment: additive?.moment ?? ('before-lye' as Schemas['Additive']['moment']),
  inci: (liquid ?? additive)?.inci ?? '',
  salt: additive?.salt ?? '',
  tint: additive?.tint ?? '',
  acid_of: liquid?.acid_of || 'citric',
})
/** What is typed as numbers; percent where the wire has shares. */
const numbers = reactive<Record<string, string>>({
  sv: shown(fat?.sv),
  water: shown(liquid?.water, 100),
  fat: shown((liquid ?? additive)?.fat, 100),
  protein: shown(liquid?.protein, 100),
  sugars: shown(liquid?.sugars, 100),
  alcohol: shown(liquid?.alcohol, 100),
  acid: shown(liquid?.acid, 100),
  usual: shown(additive?.usual),
  most: shown(additive?.most),
  spoon: shown(additive?.spoon),
  density: shown(additive?.density),
  active: shown(additive?.active ?? 1, 100),
  molar_mass: shown(props.own?.equivalent),
  valence: props.own?.equivalent ? '1' : '',
})
const acids = reactive<Record<string, string>>({})
const byAcids = ref(false)
/** What is found here, before it is asked. */
const found = ref<Fault[]>([])
const { run, refuse, at, besides } = useCustom((fat ?? liquid ?? additive)?.id, () => emit('done'))
const kins = computed(() =>
  (shelf.value?.fats ?? []).map((f) => ({ id: f.id, name: f.name, hint: `SV ${f.sv_low}–${f.sv_high}` })),
)

const FIELDS: Record<New['kind'], [string, string][]> = {
  fat: [['sv', 'saponification value, mg KOH per g']],
  liquid: [
    ['water', 'water, g in 100 g'],
    ['fat', 'fat, g in 100 g'],
    ['protein', 'protein, g in 100 g'],
    ['sugars', 'sugars, g in 100 g'],
    ['alcohol', 'alcohol, g in 100 g'],
    ['acid', 'acid it is sour by, g in 100 g'],
  ],
  additive: [
    ['usual', 'usual dose, g per kg of fats'],
    ['most', 'the most, g per kg of fats'],
    ['spoon', 'grams of a level teaspoon'],
    ['density', 'density, g per mL'],
    ['active', 'strength, %'],
    ['fat', 'fat in it, %'],
  ],
}
const fields = computed(() => [
  ...FIELDS[kind.value],
  ...(kind.value === 'additive' && form.sort === 'acid'
    ? ([
        ['molar_mass', 'molar mass, g per mol'],
        ['valence', 'how many times an acid (valence)'],
      ] as [string, string][])
    : []),
])
const elsewhere = computed(() =>
  besides(['/name', '/kin', '/acids', ...fields.value.map(([field]) => `/${field}`)]),
)
const PERCENT = new Set(['water', 'fat', 'protein', 'sugars', 'alcohol', 'acid', 'active'])
const NEEDED = new Set(['water', 'usual', 'most', 'molar_mass', 'valence'])

function read(field: string, typed: string): number | null {
  const plain = readNumber(typed)
  if (!typed.trim()) {
    if (NEEDED.has(field)) found.value.push(fault(`/${field}`, 'A number is needed here.'))
    return null
  }
  if (plain === null || plain < 0) {
    found.value.push(fault(`/${field}`, 'This is not a number.'))
    return null
  }
  return plain / (PERCENT.has(field) ? 100 : 1)
}

function made(): New | null {
  found.value = []
  const typed = Object.fromEntries(
    fields.value.map(([f]) => [f, read(f, numbers[f] ?? '')]).filter(([, n]) => n !== null),
  ) as Record<string, number>
  const profile = byAcids.value
    ? Object.fromEntries(
        ACIDS.value.map((a) => [a, read(`acids/${a}`, acids[a] ?? '')]).filter(([, n]) => n !== null),
      )
    : null
  if (kind.value === 'fat' && !form.kin)
    found.value.push(fault('/kin', 'Choose the fat it is, or is most like.'))
  if (found.value.length) return null
  const { name, inci } = form
  if (kind.value === 'fat')
    return {
      kind: 'fat',
      name,
      kin: form.kin ?? '',
      sv: typed.sv ?? null,
      acids: profile as Record<string, number> | null,
    }
  if (kind.value === 'liquid')
    return { kind: 'liquid', name, inci, milk: form.milk, acid_of: form.acid_of, ...typed } as New
  return {
    kind: 'additive',
    name,
    inci,
    salt: form.salt,
    sort: form.sort,
    moment: form.moment,
    tint: form.tint,
    ...typed,
  } as New
}

function save() {
  const ingredient = made()
  if (!refuse(found.value) && ingredient) void run(ingredient)
}
</script>

<template>
  <CustomForm
    v-model:kind="kind"
    v-model:name="form.name"
    :there="!!own"
    :kinds="{ fat: 'a fat', liquid: 'a liquid', additive: 'an acid or additive' }"
    kind-of="What it is"
    name-of="name, perhaps with its lot"
    :at="at"
    :elsewhere="elsewhere"
    @save="save"
  >
    <div v-if="kind === 'fat'" class="flex flex-col">
      <span class="note">it is, or is most like</span>
      <PickList label="Kin of the fat" :options="kins" :chosen="form.kin" @pick="(id) => (form.kin = id)" />
      <span v-if="at('/kin')" class="message" role="alert">{{ at('/kin') }}</span>
    </div>
    <template v-if="kind === 'additive'">
      <label class="flex flex-col">
        <span class="note">what it is</span>
        <select v-model="form.sort" class="field">
          <option v-for="s in SORTS" :key="s" :value="s">{{ s }}</option>
        </select>
      </label>
      <label class="flex flex-col">
        <span class="note">it goes in</span>
        <select v-model="form.moment" class="field">
          <option v-for="(words, m) in moments.words.value" :key="m" :value="m">{{ words }}</option>
        </select>
      </label>
    </template>
    <label v-for="[field, words] in fields" :key="field" class="flex flex-col">
      <span class="note">{{ words }}</span>
      <input
        v-model="numbers[field]"
        class="field fig"
        inputmode="decimal"
        :aria-invalid="!!at(`/${field}`)"
      />
      <span v-if="at(`/${field}`)" class="message" role="alert">{{ at(`/${field}`) }}</span>
    </label>
    <label v-if="kind !== 'fat'" class="flex flex-col">
      <span class="note">name on a label</span>
      <input v-model="form.inci" class="field" maxlength="80" />
    </label>
    <label v-if="kind === 'additive' && form.sort === 'acid'" class="flex flex-col">
      <span class="note">and of what it becomes (citrate, lactate)</span>
      <input v-model="form.salt" class="field" maxlength="80" />
    </label>
    <label v-if="kind === 'additive' && COLOURS.includes(form.sort)" class="flex flex-col">
      <span class="note">soap coloured with it is</span>
      <span class="flex items-center gap-2">
        <input v-model="form.tint" type="color" class="h-8 w-14" />
        <button v-if="form.tint" type="button" class="text-sm underline" @click="form.tint = ''">
          not known
        </button>
      </span>
    </label>
    <label v-if="kind === 'liquid'" class="flex flex-col">
      <span class="note">which acid</span>
      <select v-model="form.acid_of" class="field">
        <option v-for="a in shelf?.sour ?? []" :key="a" :value="a">{{ a }}</option>
      </select>
    </label>
    <label v-if="kind === 'liquid'" class="flex items-center gap-1.5 self-end">
      <input v-model="form.milk" type="checkbox" class="size-4 accent-ink" /> a milk
    </label>
    <template #more>
      <template v-if="kind === 'fat'">
        <label class="flex items-center gap-1.5 pt-3">
          <input v-model="byAcids" type="checkbox" class="size-4 accent-ink" />
          its fatty acids are on the certificate too
        </label>
        <div v-if="byAcids" class="flex flex-wrap gap-x-4 gap-y-1 pt-1">
          <label v-for="a in ACIDS" :key="a" class="flex items-baseline gap-1">
            <span class="note">{{ a }}</span>
            <input
              v-model="acids[a]"
              class="field fig w-12 text-right"
              inputmode="decimal"
              :aria-invalid="!!at(`/acids/${a}`)"
            />
          </label>
          <span v-if="at('/acids')" class="message basis-full" role="alert">{{ at('/acids') }}</span>
        </div>
        <p class="note pt-1">
          Without a saponification value it is reckoned from the acids, with a wider range.
        </p>
      </template>
    </template>
  </CustomForm>
</template>
