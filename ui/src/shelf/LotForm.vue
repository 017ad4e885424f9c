<script setup lang="ts">
/** A lot as it is typed: what there is of it, until when it is good, what it cost, and what its certificate says. */
import { newId } from '../support/newId'
import { inField, ownUnit, readAgain, readNumber, weight } from '../support/quantity'
import { computed, reactive, ref } from 'vue'
import { api, fault, send, take, type Schemas } from '../api/client'
import { useRefresh } from '../api/queries'
import { usePutAway, useWrite } from '../api/writes'
import PickList from '../fields/PickList.vue'
import { units } from '../support/units'
import { moneyHere, priced, priceKept, priceShown } from '../support/money'

type Held = Schemas['LotLeft']
const props = defineProps<{
  of: Held | null
  items: Schemas['ItemName'][]
  documents: Schemas['DocumentView'][]
}>()
const emit = defineEmits<{ done: [] }>()
const refresh = useRefresh()
/** This moment as a date-and-time field has it. */
const rightNow = () => new Date().toLocaleString('sv').slice(0, 16).replace(' ', 'T')
const lot = props.of?.lot
const id = props.of?.id ?? newId()
let revision = props.of?.revision ?? null
const paid = lot?.price_per_kg ?? null
const left = props.of ? Math.max(props.of.left, 0) : null
const form = reactive({
  item: lot?.item ?? (null as string | null),
  label: lot?.label ?? '',
  grams: '',
  counted: rightNow(),
  expires: lot?.expires ?? '',
  bought: lot?.bought ?? '',
  opened: lot?.opened ?? '',
  price: paid === null ? '' : inField(priceShown(paid)),
  supplier: lot?.supplier ?? '',
  code: lot?.code ?? '',
  purity: lot?.purity == null ? '' : inField(100 * lot.purity),
  sv: lot?.sv == null ? '' : inField(lot.sv),
  pack: lot?.pack == null ? '' : inField(lot.pack, 'g'),
})
const added = ref<File[]>([])

const options = computed(() =>
  props.items.map((i) => ({ id: i.item, name: i.name, hint: i.item.split(':')[0] })),
)
const alkali = computed(() => !!form.item?.startsWith('alkali:'))
const fat = computed(() => !!form.item?.startsWith('fat:'))
/** What is wrong with no field of its own is told at the first. */
const at = (pointer: string) => faults.value.find((f) => (f.pointer || '/item') === pointer)?.message
/** Nothing that is counted or paid is below nothing. */
const above = (read: number | null) => (read === null || read < 0 ? null : read)

function picked(event: Event) {
  const field = event.target as HTMLInputElement
  added.value = [...(field.files ?? [])]
}
const {
  gone: away,
  putAway: takeAway,
  bringBack,
} = usePutAway<Schemas['DocumentView']>(
  ({ id }) => take(api.DELETE('/api/documents/{document_id}', { params: { path: { document_id: id } } })),
  (id) => take(api.POST('/api/documents/{document_id}/restore', { params: { path: { document_id: id } } })),
  ['stock'],
)
/** The lot, then each certificate that was picked; one that was kept is not sent twice. */
const { run, refuse, faults } = useWrite(
  async (body: Schemas['LotEdit']) => {
    const kept = await take(api.PUT('/api/stock/{lot_id}', { params: { path: { lot_id: id } }, body }))
    revision = kept.lots.find((x) => x.id === id)?.revision ?? revision
    while (added.value.length) {
      const file = new FormData()
      file.append('file', added.value[0] as File)
      await send(`/api/stock/${id}/documents`, file)
      added.value = added.value.slice(1)
    }
  },
  { once: true },
)
async function save() {
  const [grams, typed] = [above(readNumber(form.grams, 'g')), above(readNumber(form.price))]
  const same = paid !== null && form.price === inField(priceShown(paid))
  const price = same ? paid : typed === null ? null : priceKept(typed)
  const counted = form.grams.trim() !== '' || !props.of
  const purity = form.purity.trim() ? readNumber(form.purity) : null
  const sv = form.sv.trim() ? readNumber(form.sv) : null
  const pack = form.pack.trim() ? above(readAgain(form.pack, lot?.pack ?? null, 'g')) : null
  const wrong = alkali.value && form.purity.trim() !== '' && !(purity !== null && purity > 0 && purity <= 100)
  const found = [
    ...(form.item ? [] : [fault('/item', 'Choose what it is.')]),
    ...(counted && grams === null
      ? [fault('/grams', form.grams.trim() ? 'This is not a number.' : 'Say how much there is.')]
      : []),
    ...(wrong ? [fault('/purity', 'A purity is above 0 and at most 100 %.')] : []),
    ...(fat.value && form.sv.trim() && sv === null ? [fault('/sv', 'This is not a number.')] : []),
    ...(form.pack.trim() && !pack ? [fault('/pack', 'This is not a weight.')] : []),
    ...(form.price.trim() && price === null ? [fault('/price_per_kg', 'This is not a number.')] : []),
  ]
  if (refuse(found) || !form.item) return
  const body = {
    item: form.item,
    label: form.label,
    grams: counted ? grams : null,
    counted: counted && form.counted ? new Date(form.counted).toISOString() : null,
    expires: form.expires || null,
    bought: form.bought || null,
    opened: form.opened || null,
    price_per_kg: price,
    supplier: form.supplier,
    code: form.code,
    purity: alkali.value && purity !== null ? purity / 100 : null,
    sv: fat.value ? sv : null,
    pack,
    revision,
  }
  const kept = await run(body)
  if (kept) emit('done')
  await refresh('stock')
}
</script>

<template>
  <form
    class="mt-3 grid gap-x-8 gap-y-3 border-l-4 border-ink bg-chalk px-5 py-4 sm:grid-cols-2 md:grid-cols-3"
    @submit.prevent="save"
  >
    <div class="flex flex-col">
      <span class="note">what it is</span>
      <PickList label="Ingredient" :options="options" :chosen="form.item" @pick="(id) => (form.item = id)" />
      <span v-if="at('/item')" class="message" role="alert">{{ at('/item') }}</span>
    </div>
    <label class="flex flex-col">
      <span class="note">lot, bottle or delivery</span>
      <input v-model="form.label" class="field" maxlength="80" />
    </label>
    <label class="flex flex-col">
      <span class="note">{{
        props.of ? `counted anew, ${ownUnit('g')} (empty: no count)` : `there now, ${ownUnit('g')}`
      }}</span>
      <input
        v-model="form.grams"
        class="field fig"
        inputmode="decimal"
        :placeholder="left === null ? '' : `${weight(left)} by the book`"
        :aria-invalid="!!at('/grams')"
      />
      <span v-if="at('/grams')" class="message" role="alert">{{ at('/grams') }}</span>
    </label>
    <label class="flex flex-col">
      <span class="note">counted at; what was poured before is in it</span>
      <input v-model="form.counted" type="datetime-local" class="field" :aria-invalid="!!at('/counted')" />
      <span v-if="at('/counted')" class="message" role="alert">{{ at('/counted') }}</span>
    </label>
    <label class="flex flex-col">
      <span class="note">good until (empty when not stated)</span>
      <input v-model="form.expires" type="date" class="field" />
    </label>
    <label class="flex flex-col">
      <span class="note">bought (empty when not known)</span>
      <input v-model="form.bought" type="date" class="field" />
    </label>
    <label class="flex flex-col">
      <span class="note">opened (empty: still closed)</span>
      <input v-model="form.opened" type="date" class="field" />
    </label>
    <label class="flex flex-col">
      <span class="note">price of {{ priced() }}, in {{ units.money || moneyHere() || 'your money' }}</span>
      <input
        v-model="form.price"
        class="field fig"
        inputmode="decimal"
        :aria-invalid="!!at('/price_per_kg')"
      />
      <span v-if="at('/price_per_kg')" class="message" role="alert">{{ at('/price_per_kg') }}</span>
    </label>
    <label class="flex flex-col">
      <span class="note">supplier</span>
      <input v-model="form.supplier" class="field" maxlength="80" />
    </label>
    <label class="flex flex-col">
      <span class="note">their batch number</span>
      <input v-model="form.code" class="field" maxlength="80" />
    </label>
    <label v-if="alkali" class="flex flex-col">
      <span class="note">purity, % (its certificate)</span>
      <input v-model="form.purity" class="field fig" inputmode="decimal" :aria-invalid="!!at('/purity')" />
      <span v-if="at('/purity')" class="message" role="alert">{{ at('/purity') }}</span>
    </label>
    <label v-if="fat" class="flex flex-col">
      <span class="note">saponification value, mg KOH/g (its certificate)</span>
      <input v-model="form.sv" class="field fig" inputmode="decimal" :aria-invalid="!!at('/sv')" />
      <span v-if="at('/sv')" class="message" role="alert">{{ at('/sv') }}</span>
    </label>
    <label class="flex flex-col">
      <span class="note">sold by the pack of, {{ ownUnit('g') }}</span>
      <input v-model="form.pack" class="field fig" inputmode="decimal" :aria-invalid="!!at('/pack')" />
      <span v-if="at('/pack')" class="message" role="alert">{{ at('/pack') }}</span>
    </label>
    <div class="flex flex-col gap-1">
      <span class="note">certificates (PDF or picture)</span>
      <ul v-if="documents.length">
        <li v-for="d in documents" :key="d.id" class="flex items-baseline gap-2">
          <a :href="`/api/documents/${d.id}`" class="truncate underline" download>{{ d.name }}</a>
          <button type="button" class="take-out" :aria-label="`Take away ${d.name}`" @click="takeAway(d)">
            ×
          </button>
        </li>
      </ul>
      <p v-if="away" role="status">
        {{ away.name }} was taken away.
        <button type="button" class="underline" @click="bringBack(away.id)">Bring it back</button>
      </p>
      <label class="key cursor-pointer self-start focus-within:outline-3">
        {{ added.length ? added.map((f) => f.name).join(', ') : 'Add a certificate' }}
        <input type="file" accept="application/pdf,image/*" multiple class="sr-only" @change="picked" />
      </label>
      <span v-if="at('/file')" class="message" role="alert">{{ at('/file') }}</span>
    </div>
    <button type="submit" class="key key-main self-end justify-self-start">
      {{ !props.of ? 'Save' : form.grams.trim() ? 'Save the count' : 'Save' }}
    </button>
  </form>
</template>
