/** Sound and vibration when a window is about to close, a gate may open or a countdown ends. One at a time. */
import { onScopeDispose, ref, watch, type Ref } from 'vue'
import { recall, remember } from '../support/known'

export interface Cue {
  minute: number
  kind: string
  message: string
}

const APART = 20_000 // ms between two cues, at least
const LATE = 1 // minutes after which a cue that was missed is not given any more
const KEPT = 'round-stone-cues'
const TONES: Record<string, number[]> = { closing: [880, 660], gate: [520, 660], countdown: [660, 660] }

const on = ref(recall(KEPT) !== 'off')
let last = -Infinity

/** Which cue is due: the first one not given yet, none within APART of the one before. */
export const due = (cues: readonly Cue[], minute: number, given: ReadonlySet<string>, since: number) =>
  since < APART
    ? undefined
    : cues.find((c) => c.minute <= minute && minute - c.minute < LATE && !given.has(`${c.kind} ${c.message}`))

let audio: AudioContext | null = null
function sound(kind: string) {
  try {
    audio ??= new AudioContext()
    const begin = audio.currentTime
    for (const [i, pitch] of (TONES[kind] ?? [660]).entries()) {
      const tone = audio.createOscillator()
      const loud = audio.createGain()
      tone.frequency.value = pitch
      loud.gain.setValueAtTime(0.001, begin + 0.25 * i)
      loud.gain.exponentialRampToValueAtTime(0.3, begin + 0.25 * i + 0.02)
      loud.gain.exponentialRampToValueAtTime(0.001, begin + 0.25 * i + 0.22)
      tone.connect(loud).connect(audio.destination)
      tone.start(begin + 0.25 * i)
      tone.stop(begin + 0.25 * i + 0.24)
    }
  } catch {
    audio = null // no sound here: the words stand on the screen
  }
  navigator.vibrate?.([120, 80, 120])
}

export function useCues(cues: Ref<readonly Cue[]>, minute: Ref<number>, running: Ref<boolean>) {
  const given = new Set<string>()
  const message = ref('')
  let away = 0
  watch(minute, (now) => {
    if (!running.value) return
    const cue = due(cues.value, now, given, performance.now() - last)
    if (!cue) return
    given.add(`${cue.kind} ${cue.message}`)
    last = performance.now()
    message.value = cue.message
    clearTimeout(away)
    away = window.setTimeout(() => (message.value = ''), 12_000)
    // A page that nobody touched yet may make no sound.
    if (on.value && navigator.userActivation?.hasBeenActive !== false) sound(cue.kind)
  })
  onScopeDispose(() => clearTimeout(away))
  return {
    /** What the last cue said, for a while. */
    message,
    on,
    toggle() {
      on.value = !on.value
      remember(KEPT, on.value ? 'on' : 'off')
    },
  }
}
