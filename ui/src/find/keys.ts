/** The keys of each place, as its page hears them. */
export type Keys = [key: string, does: string][]

export const EVERYWHERE: Keys = [
  ['Ctrl K', 'find anything, go anywhere'],
  ['?', 'these keys, and words explained'],
  ['Tab', 'to the next thing'],
]
const RECIPE: Keys = [
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['↑ ↓', 'in a figure: one step more or less; with Shift ten'],
  ['Esc', 'in a figure: as it was'],
]
const PLAN: Keys = [
  ['← →', 'on a step: sooner, later'],
  ['+ −', 'on a step: longer, shorter'],
  ['Delete', 'on a step: take it out'],
  ['Insert', 'on a step: add one after it'],
  ['Esc', 'close the step'],
]
const BENCH: Keys = [
  ['N', 'the big key'],
  ['1 … 5', 'emulsion, light, medium, thick, set'],
  ['← →', 'the portion before, the next'],
  ['B, W', 'blended, stirred by hand'],
  ['F', 'the scent is in'],
  ['T', 'temperature'],
  ['R', 'ricing, seized …'],
  ['M', 'more'],
  ['U', 'undo'],
]
export const OF: Record<string, { title: string; keys: Keys }> = {
  recipe: { title: 'Recipe', keys: RECIPE },
  forecast: { title: 'Forecast', keys: RECIPE },
  plan: { title: 'Plan', keys: [...PLAN, ...RECIPE] },
  pour: { title: 'Bench', keys: BENCH },
  'practice-pour': { title: 'Bench', keys: BENCH },
}
