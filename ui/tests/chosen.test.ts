import { describe, expect, it } from 'vitest'
import { computed, effectScope, nextTick, ref } from 'vue'
import type { PourView } from '../src/api/client'
import { useChosen } from '../src/bench/useChosen'

const lanes = ['Base', 'Ash', 'Rust']
const seen = (choose: string | null, taps: number) =>
  ({
    recipe: { design: { portions: lanes.map((name) => ({ name, batch: '' })) } },
    split: 2,
    pouring: 5,
    events: Array.from({ length: taps }, () => ({})),
    bench: { choose, lanes: lanes.map((portion) => ({ portion })) },
    advice: { headline: `${choose ?? 'all'}` },
  }) as unknown as PourView

describe('Whose batter the keys are about', () => {
  it('changes by a tap alone, and by the answer to the big key', async () => {
    const view = ref<PourView | null>(seen('Base', 3))
    const scope = effectScope()
    const chosen = scope.run(() =>
      useChosen(
        view,
        computed(() => true),
      ),
    )
    if (!chosen) throw new Error('no scope')
    expect(chosen.portion.value).toBe('Base')
    chosen.choose('Rust')
    view.value = seen('Ash', 3) // the forecast moved on by itself
    await nextTick()
    expect(chosen.portion.value).toBe('Rust')
    view.value = seen('Ash', 4) // a tap at the chosen one, or one from another device
    await nextTick()
    expect(chosen.portion.value).toBe('Rust')
    chosen.lead()
    view.value = seen('Ash', 5)
    await nextTick()
    expect(chosen.portion.value).toBe('Ash')
    view.value = seen('Base', 6) // and only once
    await nextTick()
    expect(chosen.portion.value).toBe('Ash')
    scope.stop()
  })
})
