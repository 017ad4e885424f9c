<script setup lang="ts">
/** A number typed in place. Typing tells at once; Enter commits, arrows nudge, Esc reverts. */
import { computed, nextTick, onBeforeUnmount, ref, useId, watch } from 'vue'
import { fault, type Caution, type Fault, type Mend } from '../api/client'
import {
  fromOwn,
  inField,
  ownUnit,
  readNumber,
  readQuantity,
  toOwn,
  unread,
  type Quantity,
  type Unit,
} from '../support/quantity'
import Message from './Message.vue'
import { useTyped } from './useTyped'
import { written } from '../support/decimal'

const props = withDefaults(
  defineProps<{
    modelValue: number
    label: string
    /** Metric; it is shown and typed in the maker's own. */
    unit?: string
    /** What is shown is the value times this: 100 for a share shown in percent. */
    scale?: number
    step?: number
    width?: string
    hideLabel?: boolean
    faults?: Fault[]
    cautions?: Caution[]
    pointer?: string
    big?: boolean
    /** Tell only on Enter or on leaving: for a figure whose half-typed value would move others. */
    lazy?: boolean
    /** What is wrong is said elsewhere, where there is room for it. */
    bare?: boolean
    /** To the tenth: for what nobody typed so. */
    coarse?: boolean
    /** It may have been reckoned from a quantity. */
    reckoned?: boolean
    /** What becomes of a quantity typed in place of the figure, such as "1.5 tsp", once the field is left; what it
        tells is what is wrong with it. */
    quantity?: (typed: Quantity) => Promise<string | null>
  }>(),
  { scale: 1, step: 1, width: 'w-14', unit: '', faults: () => [], cautions: () => [], pointer: '' },
)
const emit = defineEmits<{
  'update:modelValue': [value: number]
  unreadable: [message: string | null]
  mend: [mend: Mend]
}>()

const id = useId()
const unit = computed(() => props.unit as Unit)
const behind = computed(() => ownUnit(unit.value))
/** Decimals: as many as the figure has, but of one that was reckoned four digits are plenty. */
function places(value: number) {
  if (props.coarse) return behind.value === 'oz' ? 2 : 1
  const whole = Math.trunc(Math.abs(value * props.scale))
  return props.reckoned && whole ? Math.max(0, 4 - String(whole).length) : undefined
}
const shown = (value: number) => inField(value * props.scale, unit.value, places(value))
const before = ref(props.modelValue)
const unreadable = ref<string | null>(null)
const field = useTyped(
  () => props.modelValue,
  shown,
  () => tell(null),
)
const text = field.text

function tell(message: string | null) {
  if (message === unreadable.value) return
  unreadable.value = message
  emit('unreadable', message)
}

// A field that is taken away takes its complaint with it.
onBeforeUnmount(() => tell(null))

/** A number with a point, a comma or a fraction, in this unit or with its own; anything else is not guessed at. */
const read = (typed: string) => readNumber(typed, unit.value)
watch(behind, field.rewrite)

/** What was typed, where it is another way to say the figure. */
const otherwise = () => (props.quantity ? readQuantity(text.value) : null)

function typed() {
  field.touch()
  if (otherwise()) return tell(null)
  const value = read(text.value)
  if (value === null || !Number.isFinite(value)) {
    tell(unread(text.value))
    return
  }
  tell(null)
  if (!props.lazy) commit(value)
}

function commit(value: number) {
  field.tell(value / props.scale)
  emit('update:modelValue', value / props.scale)
}

function enter(input: HTMLInputElement) {
  before.value = props.modelValue
  field.enter()
  input.select()
}

async function leave() {
  const quantity = otherwise()
  if (quantity) {
    field.leave(true)
    const asked = text.value
    const wrong = (await props.quantity?.(quantity)) ?? null
    if (text.value !== asked) return // the new figure stands there, or something was typed since
    if (wrong === null) field.rewrite()
    return tell(wrong)
  }
  const value = read(text.value)
  if (props.lazy && field.touched() && value !== null && text.value !== shown(props.modelValue)) commit(value)
  field.leave(value === null)
  // What was typed in another unit stands in this one from now on.
  if (value !== null && /[^\d.,+\-\u2212\s]/.test(text.value)) text.value = inField(value, unit.value)
}

function set(value: number) {
  text.value = inField(value, unit.value)
  typed()
}

function key(event: KeyboardEvent) {
  if (event.key === 'Enter') (event.target as HTMLInputElement).blur()
  else if (event.key === 'Escape') {
    if (props.lazy) field.rewrite()
    else set(before.value * props.scale)
    nextTick(() => (event.target as HTMLInputElement).select())
  } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
    const by = (event.key === 'ArrowUp' ? 1 : -1) * props.step * (event.shiftKey ? 10 : 1)
    const from = toOwn(read(text.value) ?? props.modelValue * props.scale, unit.value)
    set(fromOwn(from + by, unit.value))
    event.preventDefault()
  }
}

const message = computed(() => (unreadable.value ? [fault('', unreadable.value)] : props.faults))
// A bare field leaves its complaints to the row it stands in, which calls them says-<pointer>.
const spoken = computed(() => (message.value.length || props.cautions.length) && !props.bare)
</script>

<template>
  <span class="inline-flex flex-col" :class="hideLabel ? '' : 'gap-0.5'">
    <label :for="id" :class="hideLabel ? 'sr-only' : 'note'">{{ label }}</label>
    <span class="inline-flex items-baseline gap-1">
      <input
        :id="id"
        v-model="text"
        class="field fig text-right"
        :class="[
          width,
          big ? 'text-2xl font-semibold' : text.length > 5 ? 'text-xs' : text.length > 4 ? 'text-sm' : '',
        ]"
        inputmode="decimal"
        autocomplete="off"
        :aria-invalid="message.length > 0"
        :aria-describedby="
          spoken
            ? `${id}-message`
            : pointer && (message.length || cautions.length)
              ? `message-${pointer}`
              : undefined
        "
        :data-pointer="pointer"
        :title="quantity && `a figure, or what is weighed: 12 g, ${written(0.5)} oz, ${written(1.5)} tsp`"
        @focus="enter($event.target as HTMLInputElement)"
        @input="typed"
        @blur="leave"
        @keydown="key"
      />
      <span v-if="behind" class="unit text-sm" :class="!hideLabel ? '' : behind === 'g' ? 'w-3' : 'w-8'">{{
        behind
      }}</span>
    </span>
    <Message
      v-if="spoken"
      :id="`${id}-message`"
      class="max-w-72 text-left"
      :faults="message"
      :cautions="cautions"
      @mend="(mend) => emit('mend', mend)"
    />
  </span>
</template>
