/** What a hand asks the server to write: one after another, what is refused told as faults, what follows asked for anew. */
import { useMutation } from '@tanstack/vue-query'
import { computed, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { shrunk } from '../support/picture'
import { api, fault, Refused, send, take, Unreachable, type Fault, type Schemas } from './client'
import { useRefresh } from './queries'

/** What is wrong, field by field; where no field is named, the sentence alone. */
export function faultsOf(error: unknown): Fault[] {
  if (error instanceof Refused && error.problem.errors.length) return error.problem.errors
  return [fault('', (error as Error).message)]
}

let writes = 0 // one after another is each kind of write by itself

interface About<A extends unknown[], T> {
  /** Which queries are asked again once it is written. */
  touches?: readonly string[]
  done?: (made: T, ...given: A) => unknown
  /** Asked again while it goes on, it is not asked twice: a second tap on *make* makes nothing more. */
  once?: boolean
}

export function useWrite<A extends unknown[], T>(
  write: (...given: A) => Promise<T>,
  { touches = [], done, once = false }: About<A, T> = {},
) {
  const refresh = useRefresh()
  const found = shallowRef<Fault[]>([])
  const mutation = useMutation({
    mutationFn: (given: A) => write(...given),
    onSuccess: async (made, given) => {
      await refresh(...touches)
      await done?.(made, ...given)
    },
    networkMode: 'always', // the server may be on this very machine, whatever the browser thinks of the network
    scope: { id: `write ${++writes}` },
  })
  const faults = computed(() =>
    mutation.error.value && !found.value.length ? faultsOf(mutation.error.value) : found.value,
  )
  return {
    busy: mutation.isPending,
    /** It was written, and nothing was asked since. */
    written: mutation.isSuccess,
    faults,
    /** The first thing that is wrong, in a sentence; nothing where nothing is. */
    trouble: computed(() => faults.value[0]?.message ?? ''),
    /** It is odd, and is done all the same once the maker says that it is so. */
    asks: computed(() => mutation.error.value instanceof Refused && mutation.error.value.problem.sure),
    /** What is wrong at a field. */
    at: (pointer: string) => faults.value.find((f) => f.pointer === pointer)?.message,
    /** Whether it was written: what is wrong else stands in `faults`. */
    async run(...given: A): Promise<boolean> {
      if (once && mutation.isPending.value) return false
      found.value = []
      try {
        await mutation.mutateAsync(given)
        return true
      } catch (error) {
        if (!(error instanceof Refused || error instanceof Unreachable)) throw error
        return false
      }
    },
    /** Found here, so that nothing is asked; whether there is something. */
    refuse(wrong: Fault[]): boolean {
      mutation.reset()
      found.value = wrong
      return wrong.length > 0
    },
  }
}

/** A new recipe, empty, from a starter or as a copy of another: it is opened. */
export function useNewRecipe() {
  const router = useRouter()
  const write = (of: { copy_of?: string; starter?: string }) =>
    take(api.POST('/api/recipes', { body: { copy_of: null, starter: null, name: '', ...of } }))
  return useWrite(write, {
    touches: ['recipes'],
    done: (made) => router.push(`/recipes/${made.id}`),
    once: true,
  })
}

/** An ingredient of the maker's own: a new one, or the one of this id as it is now. */
export function useCustom(id: string | undefined, done: () => void) {
  type New = Schemas['NewOwn']['ingredient']
  const write = (ingredient: New): Promise<unknown> =>
    id
      ? take(
          api.PUT('/api/custom/{ingredient_id}', {
            params: { path: { ingredient_id: id } },
            body: { ingredient },
          }),
        )
      : take(api.POST('/api/custom', { body: { ingredient } }))
  const { run, refuse, faults } = useWrite(write, { done, once: true })
  const placed = computed(() =>
    faults.value.map((f) => ({ ...f, pointer: f.pointer.replace('/ingredient', '') })),
  )
  return {
    run,
    refuse,
    /** What is wrong at a field, whichever side found it. */
    at: (pointer: string) => placed.value.find((f) => f.pointer === pointer)?.message,
    /** What is wrong in none of these fields. */
    besides: (shown: readonly string[]) => placed.value.filter((f) => !shown.includes(f.pointer)),
  }
}

/** Pictures of a batch. */
export function usePhotos(pour: () => string, done: () => void) {
  async function write(file: File, days: number, note: string) {
    const form = new FormData()
    form.append('file', await shrunk(file))
    form.append('days', String(days))
    form.append('note', note)
    await send(`/api/pours/${pour()}/photos`, form)
  }
  const add = useWrite(write, { done })
  const remove = useWrite(
    (photo: string) => take(api.DELETE('/api/photos/{photo_id}', { params: { path: { photo_id: photo } } })),
    { done },
  )
  /** What a field of files has in it, taken up. */
  async function pick(change: Event, days: number, note: string) {
    const input = change.target as HTMLInputElement
    const [file] = input.files ?? []
    const kept = !!file && (await add.run(file, days, note))
    input.value = ''
    return kept
  }
  return { pick, remove, busy: add.busy, trouble: add.trouble }
}

/** Things put out of sight, each of which can be brought back; the last is told. */
export function usePutAway<G extends { id: string }>(
  remove: (of: G) => Promise<unknown>,
  restore: (id: string) => Promise<unknown>,
  touches: readonly string[],
) {
  const gone = shallowRef<G | null>(null)
  const out = useWrite(remove, { touches, done: (_, of) => (gone.value = of) })
  const back = useWrite(restore, { touches, done: () => (gone.value = null) })
  return {
    gone,
    putAway: out.run,
    bringBack: back.run,
    trouble: computed(() => out.trouble.value || back.trouble.value),
  }
}
