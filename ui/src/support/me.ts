/** Who this screen is: the workshop's own, a device it let in for all or for the bench alone, or one it does not know. */
import { reactive } from 'vue'
import { api, take, type Schemas } from '../api/client'
import { recall, remember, soon } from './known'

export const me = reactive<Schemas['Me']>({ network: false, role: 'maker', name: null })

/** Places for who pours and looks after what rests; `pair` is for everybody. */
const BENCH = new Set(['recipes', 'ready', 'worksheet', 'pours', 'pour', 'rest', 'rests', 'practice', 'practice-pour', 'pair', 'words']) // prettier-ignore

export const onlyBench = () => me.role === 'bench'

/** Where a place is, for who asks: itself, or what is theirs instead. */
export function wayTo(place: string): true | string {
  if (me.role === null) return place === 'pair' || '/pair'
  if (place === 'pair' && !me.network) return '/'
  return !onlyBench() || BENCH.has(place) || '/'
}

const KEPT = 'round-stone-me'
export function iAm(who: Schemas['Me']) {
  Object.assign(me, who)
  remember(KEPT, who)
}

/** Asks, but no longer than a page may wait: who it was last serves meanwhile. The server lets nobody in by it. */
export async function askWho() {
  Object.assign(me, recall(KEPT) ?? {})
  await soon(take(api.GET('/api/me')).then(iAm))
}
