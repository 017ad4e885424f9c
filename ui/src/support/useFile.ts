/** A file of text taken in: what is wrong with it is told by its place, and what is odd is asked before anything is taken. */
import { reactive } from 'vue'
import { Refused, type Fault } from '../api/client'

interface Read {
  text: string
  name: string
  file: File
}

/** `taken` sends it and tells what came of it; `sure` once the maker has said that what was asked is so. Of a file that
    is `packed` the text is not read. */
export function useFile(taken: (file: Read, sure: boolean) => Promise<string>, packed = false) {
  const file = reactive({
    told: '',
    faults: [] as Fault[],
    asked: null as Read | null,
    async pick(event: Event) {
      const input = event.target as HTMLInputElement
      const picked = input.files?.[0]
      if (!picked) return
      const name = picked.name.replace(/\.\w+$/, '').slice(0, 80)
      await file.take({ text: packed ? '' : await picked.text(), name, file: picked }, false)
      input.value = ''
    },
    async take(read: Read, sure: boolean) {
      file.faults = []
      file.asked = null
      try {
        file.told = await taken(read, sure)
      } catch (error) {
        const refused = error instanceof Refused ? error.problem : null
        file.faults = refused?.errors ?? []
        file.asked = refused?.sure ? read : null
        file.told = refused
          ? refused.sure
            ? 'Is it so? Nothing was taken in yet:'
            : 'Nothing was taken in:'
          : (error as Error).message
        if (refused && !refused.errors.length) file.told = refused.detail
      }
    },
  })
  return file
}
