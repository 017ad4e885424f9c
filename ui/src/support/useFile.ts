/** A file of text taken in: what is wrong with it is told by its place, and what is odd is asked before anything is taken. */
import { computed, reactive, ref, shallowRef } from 'vue'
import { useWrite } from '../api/writes'

interface Read {
  text: string
  name: string
  file: File
}

/** `taken` sends it and tells what came of it; `sure` once the maker has said that what was asked is so. Of a file that
    is `packed` the text is not read. */
export function useFile(taken: (file: Read, sure: boolean) => Promise<string>, packed = false) {
  const done = ref('')
  const read = shallowRef<Read | null>(null)
  const write = useWrite(taken, { done: (message) => void (done.value = message) })
  /** What is wrong or asked, by its place; what has none is told alone. */
  const faults = computed(() => {
    const [first, ...more] = write.faults.value
    return first && !first.pointer && !more.length && !write.asks.value ? [] : write.faults.value
  })
  async function take(file: Read, sure: boolean) {
    done.value = ''
    read.value = file
    await write.run(file, sure)
  }
  return reactive({
    told: computed(() => {
      if (!write.faults.value.length) return done.value
      if (write.asks.value) return 'Is it so? Nothing was taken in yet:'
      return faults.value.length ? 'Nothing was taken in:' : write.trouble.value
    }),
    faults,
    asked: computed(() => (write.asks.value ? read.value : null)),
    take,
    async pick(event: Event) {
      const input = event.target as HTMLInputElement
      const picked = input.files?.[0]
      if (!picked) return
      const name = picked.name.replace(/\.\w+$/, '').slice(0, 80)
      await take({ text: packed ? '' : await picked.text(), name, file: picked }, false)
      input.value = ''
    },
  })
}
